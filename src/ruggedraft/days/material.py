"""How much was shot: clips and lengths of rolls, from their files and what headers say of them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import partial

from django.db.models import Count

from ruggedraft.core.accounts import DayBar
from ruggedraft.core.cards import RECORDINGS, CardDescription
from ruggedraft.live.snapshot import when_over
from ruggedraft.productions.models import Production
from ruggedraft.rolls.clips import described
from ruggedraft.rolls.models import FileMedia, Roll

from .models import RollMaterial

_AT_A_TIME = 50
_SHORTEST_S = 0.04
"""A picture has no length: it is drawn as wide as a frame."""


@dataclass(frozen=True)
class Shot:
    """What a roll's clips come to; see `RollMaterial`."""

    clips: int
    seconds: float
    untold: int
    bars: Sequence[DayBar]


def shot_on(production: Production, rolls: Sequence[Roll]) -> dict[int, Shot]:
    """By the roll's id. Worked out once for the same files, headers and clocks, and kept.

    rolls: of this production, with their cameras
    """
    keys = _keys_of(production, rolls)
    rows = RollMaterial.objects.filter(roll__in=rolls)
    known = {row.roll_id: _of(row) for row in rows if row.key == keys[row.roll_id]}
    stale = [roll for roll in rolls if roll.pk not in known]
    fresh: dict[int, Shot] = {}
    for begin in range(0, len(stale), _AT_A_TIME):
        some = described(stale[begin : begin + _AT_A_TIME])
        fresh |= {pk: _shot(found) for pk, found in some.items()}
    if fresh:
        when_over(partial(_keep, fresh, keys))
    return known | fresh


def _keys_of(production: Production, rolls: Sequence[Roll]) -> dict[int, str]:
    """Names everything that clips and their times follow from."""
    told = FileMedia.objects.filter(file__roll__in=rolls).values("file__roll").annotate(count=Count("pk"))
    headers = {row["file__roll"]: row["count"] for row in told}
    return {
        roll.pk: f"{roll.content} {headers.get(roll.pk, 0)} {roll.camera.clock} {production.time_zone}"
        for roll in rolls
    }


def _of(row: RollMaterial) -> Shot:
    return Shot(row.clips, row.seconds, row.untold, [DayBar(start, length) for start, length in row.bars])


def _keep(fresh: Mapping[int, Shot], keys: Mapping[int, str]) -> None:
    rows = [
        RollMaterial(
            roll_id=pk,
            key=keys[pk],
            clips=one.clips,
            seconds=one.seconds,
            untold=one.untold,
            bars=[(bar.start, bar.length) for bar in one.bars],
        )
        for pk, one in sorted(fresh.items())
    ]
    RollMaterial.objects.bulk_create(
        rows, update_conflicts=True, unique_fields=["roll"],
        update_fields=["key", "clips", "seconds", "untold", "bars"],
    )  # fmt: skip


def _shot(found: CardDescription) -> Shot:
    clips = found.clips
    recordings = [clip for clip in clips if clip.kind in RECORDINGS]
    timed = [(clip.starts.timestamp(), max(_SHORTEST_S, clip.duration_s)) for clip in clips if clip.starts]
    return Shot(
        len(clips), round(sum(clip.duration_s for clip in recordings), 3),
        sum(not clip.duration_s for clip in recordings),
        [DayBar(round(start, 2), round(length, 2)) for start, length in timed],
    )  # fmt: skip
