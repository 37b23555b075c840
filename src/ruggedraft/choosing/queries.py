"""What screens read about marks, and about what to open."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from django.db.models import Exists, OuterRef

from ruggedraft.clearing.cases import active_cards, cases
from ruggedraft.core.cards import CardDescription
from ruggedraft.core.choosing import (
    TROUBLE,
    Choice,
    ClipSaid,
    ClipToOpen,
    MarkKind,
    Why,
    is_contested,
    of_no_kept_clip,
    settled,
    spot_check,
)
from ruggedraft.core.sources import to_ledger
from ruggedraft.crew.models import Person
from ruggedraft.intake.models import Card
from ruggedraft.pictures.models import FileDecoded, FileSeen
from ruggedraft.pictures.queries import Decoding, decoding_of
from ruggedraft.rolls.clips import described
from ruggedraft.rolls.models import ClipOpening, Roll
from ruggedraft.rolls.queries import clips_of
from ruggedraft.rolls.readings import waived_files

from .models import Mark


@dataclass(frozen=True)
class Spot:
    """A clip worth opening. opened: somebody did"""

    path: str
    why: Sequence[Why]
    opened: bool


@dataclass(frozen=True)
class Choosing:
    """What was said of the clips of a roll. contested: paths of those that one keeps and another drops

    choice: what it comes to
    """

    choice: Choice
    marks: Sequence[Mark]
    contested: Sequence[str]
    spots: Sequence[Spot]
    decoding: Decoding | None


def choosing_in(roll: Roll) -> Choosing:
    marks, by_path = _marks_of(roll)
    return Choosing(
        choice=_choice(roll, marks),
        marks=marks,
        contested=_contested(by_path),
        spots=_spots(roll, {path for path, kinds in by_path.items() if kinds & TROUBLE}),
        decoding=decoding_of(roll),
    )


def choice_of(roll: Roll, person: Person) -> Choice:
    """What choosing from a roll comes to; and what of it this person dropped."""
    return _choice(roll, _marks_of(roll)[0], person)


def _choice(roll: Roll, marks: Sequence[Mark], person: Person | None = None) -> Choice:
    said: dict[MarkKind, dict[int, set[int]]] = {MarkKind.KEEP: {}, MarkKind.DROP: {}}
    for mark in marks:
        if (kind := MarkKind(mark.kind)) in said:
            said[kind].setdefault(mark.file_id, set()).add(mark.by_id)
    waived = waived_files([roll])
    clips = (
        ClipSaid(
            path, frozenset(said[MarkKind.KEEP].get(pk, ())), frozenset(said[MarkKind.DROP].get(pk, ())), pk in waived
        )
        for pk, path in clips_of(roll).values_list("pk", "path")
    )
    return settled(clips, person.pk if person else None)


@dataclass(frozen=True)
class Kept:
    """Of a roll of which somebody keeps something: how many clips; and paths of all files of the others."""

    clips: int
    goes: frozenset[str]


def kept_in(rolls: Iterable[Roll]) -> dict[int, Kept]:
    """By id, of those of these rolls of which somebody keeps a clip, whatever others say of it."""
    kept: dict[int, set[str]] = {}
    marks = Mark.objects.filter(roll__in=list(rolls), kind=MarkKind.KEEP, withdrawn_at=None)
    for roll, path in marks.values_list("roll", "file__path"):
        kept.setdefault(roll, set()).add(path)
    understood = described(list(Roll.objects.filter(pk__in=kept).select_related("camera", "production")))
    return {roll: Kept(len(kept[roll]), of_no_kept_clip(_clips(card), kept[roll])) for roll, card in understood.items()}


def files_kept(roll: Roll) -> set[int]:
    """Ids of its files but for those of clips that nobody keeps; none where nobody keeps any."""
    kept = kept_in([roll]).get(roll.pk)
    if kept is None:
        return set()
    return {pk for pk, path in roll.files.values_list("pk", "path") if path not in kept.goes}


def _clips(card: CardDescription) -> Iterable[tuple[str, frozenset[str]]]:
    """Each clip's main file and all of its files; where nothing was understood as a clip, each file is one."""
    clips = [clip.entries for clip in card.clips] or [(one,) for one in card.loose]
    for entries in clips:
        yield to_ledger(entries[0].path), frozenset(to_ledger(entry.path) for entry in entries)


@dataclass(frozen=True)
class Against:
    """What people and decoders said of the clips of a roll that speaks against giving its card back.

    trouble, contested, breaking: paths of clips with trouble marked, that one keeps and another drops, and of which the
    decoder complains. unknown: of those that were decoded, and of which it is not known whether they do
    undecoded: so many recordings were to be decoded, and are not yet. No verdict rests on it
    """

    tag: str
    trouble: Sequence[str]
    contested: Sequence[str]
    breaking: Sequence[str]
    unknown: Sequence[str]
    undecoded: int


def against_giving_back(card: Card) -> list[Against]:
    """Of each roll that something on the card is content of, as far as there is anything to say."""
    found = [_against(standing.roll) for one in cases(active_cards().filter(pk=card.pk)) for standing in one.rolls]
    return [one for one in found if one.trouble or one.contested or one.breaking or one.unknown or one.undecoded]


def _against(roll: Roll) -> Against:
    _, by_path = _marks_of(roll)
    decoded = FileDecoded.objects.filter(file__roll=roll).values_list("file__path", flat=True)
    asked = decoding_of(roll)
    return Against(
        roll.tag,
        trouble=sorted(path for path, kinds in by_path.items() if kinds & TROUBLE),
        contested=_contested(by_path),
        breaking=sorted(decoded.filter(in_all__gt=0)),
        unknown=sorted(decoded.filter(in_all=0).exclude(note="")),
        undecoded=asked.left if asked else 0,
    )


def _marks_of(roll: Roll) -> tuple[list[Mark], dict[str, set[MarkKind]]]:
    """Those that hold; and what is said of each clip, by its path."""
    marks = list(Mark.objects.filter(roll=roll, withdrawn_at=None).select_related("file", "by").order_by("pk"))
    by_path: dict[str, set[MarkKind]] = {}
    for one in marks:
        by_path.setdefault(one.file.path, set()).add(MarkKind(one.kind))
    return marks, by_path


def _contested(by_path: Mapping[str, set[MarkKind]]) -> list[str]:
    return sorted(path for path, kinds in by_path.items() if is_contested(kinds))


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
