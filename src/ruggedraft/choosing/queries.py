"""What screens read about marks, and about what to open."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.db.models import Exists, OuterRef

from ruggedraft.core.choosing import TROUBLE, ClipToOpen, MarkKind, Why, is_contested, spot_check
from ruggedraft.pictures.models import FileSeen
from ruggedraft.pictures.queries import Decoding, decoding_of
from ruggedraft.rolls.models import ClipOpening, Roll
from ruggedraft.rolls.queries import clips_of

from .models import Mark


@dataclass(frozen=True)
class Spot:
    """A clip worth opening. opened: somebody did"""

    path: str
    why: Sequence[Why]
    opened: bool


@dataclass(frozen=True)
class Choosing:
    """What was said of the clips of a roll. contested: paths of those that one keeps and another drops"""

    marks: Sequence[Mark]
    contested: Sequence[str]
    spots: Sequence[Spot]
    decoding: Decoding | None


def choosing_in(roll: Roll) -> Choosing:
    marks = list(Mark.objects.filter(roll=roll, withdrawn_at=None).select_related("file", "by").order_by("pk"))
    by_path: dict[str, set[MarkKind]] = {}
    for one in marks:
        by_path.setdefault(one.file.path, set()).add(MarkKind(one.kind))
    return Choosing(
        marks=marks,
        contested=sorted(path for path, kinds in by_path.items() if is_contested(kinds)),
        spots=_spots(roll, {path for path, kinds in by_path.items() if kinds & TROUBLE}),
        decoding=decoding_of(roll),
    )


def _spots(roll: Roll, trouble: set[str]) -> list[Spot]:
    rows = clips_of(roll).order_by("path")
    here = OuterRef("pk")
    told = rows.annotate(
        was_opened=Exists(ClipOpening.objects.filter(file=here)),
        unshown=Exists(FileSeen.objects.filter(file=here).exclude(note="")),
    ).values_list("path", "size", "known_media__media__facts__duration_s", "unshown", "decoded__in_all", "was_opened")
    clips = {
        path: (ClipToOpen(path, size, seconds, path in trouble, unshown, bool(breaks)), opened)
        for path, size, seconds, unshown, breaks, opened in told
    }
    found = spot_check([clip for clip, _ in clips.values()])
    return [Spot(path, why, clips[path][1]) for path, why in found.items()]
