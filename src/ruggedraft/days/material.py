"""How much was shot: clips and lengths of rolls, from their files and what headers say of them."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from zoneinfo import ZoneInfo

from django.db.models import Count

from ruggedraft.core.cards import CardDescription, Circumstances, ClipKind, describe
from ruggedraft.core.cards.media import MediaFacts
from ruggedraft.core.sources import Entry, EntryKind, Listing, from_ledger
from ruggedraft.live.snapshot import when_over
from ruggedraft.rolls.models import FileMedia, Roll, RollFile, Take

from .models import RollMaterial

_RECORDINGS = (ClipKind.VIDEO, ClipKind.SOUND)
_AT_A_TIME = 50
_SHORTEST_S = 0.04
"""A picture has no length: it is drawn as wide as a frame."""


@dataclass(frozen=True)
class Shot:
    """What a roll's clips come to; see `RollMaterial`."""

    clips: int
    seconds: float
    untold: int
    bars: Sequence[tuple[float, float]]


def shot_on(rolls: Sequence[Roll]) -> dict[int, Shot]:
    """By the roll's id. Worked out once for the same files, headers and clock, and kept.

    rolls: with camera and production
    """
    told = FileMedia.objects.filter(file__roll__in=rolls).values("file__roll").annotate(count=Count("pk"))
    headers = {row["file__roll"]: row["count"] for row in told}
    keys = {roll.pk: f"{roll.content} {headers.get(roll.pk, 0)} {roll.camera.clock}" for roll in rolls}
    known = {row.roll_id: row for row in RollMaterial.objects.filter(roll__in=rolls)}
    stale = [roll for roll in rolls if roll.pk not in known or known[roll.pk].key != keys[roll.pk]]
    fresh: dict[int, Shot] = {}
    for begin in range(0, len(stale), _AT_A_TIME):
        some = described(stale[begin : begin + _AT_A_TIME])
        fresh |= {pk: _shot(found) for pk, found in some.items()}
    if fresh:
        when_over(partial(_keep, fresh, keys))
    return {roll.pk: fresh.get(roll.pk) or _of(known[roll.pk]) for roll in rolls}


def _of(row: RollMaterial) -> Shot:
    return Shot(row.clips, row.seconds, row.untold, [(start, length) for start, length in row.bars])


def _keep(fresh: Mapping[int, Shot], keys: Mapping[int, str]) -> None:
    rows = [
        RollMaterial(roll_id=pk, key=keys[pk], clips=one.clips, seconds=one.seconds, untold=one.untold, bars=one.bars)
        for pk, one in sorted(fresh.items())
    ]
    RollMaterial.objects.bulk_create(
        rows, update_conflicts=True, unique_fields=["roll"],
        update_fields=["key", "clips", "seconds", "untold", "bars"],
    )  # fmt: skip


def described(rolls: Sequence[Roll]) -> dict[int, CardDescription]:
    """By the roll's id: its files as a card that holds nothing else, in a fixed number of queries.

    rolls: with camera and production
    """
    media: dict[int, dict[str, MediaFacts]] = {roll.pk: {} for roll in rolls}
    known = FileMedia.objects.filter(file__roll__in=rolls)
    for pk, path, facts in known.values_list("file__roll", "file__path", "media__facts"):
        media[pk][from_ledger(path)] = MediaFacts.from_data(facts)
    entries: dict[int, list[Entry]] = {roll.pk: [] for roll in rolls}
    files = RollFile.objects.filter(roll__in=rolls)
    for pk, path, size, modified_ns in files.values_list("roll", "path", "size", "modified_ns"):
        entries[pk].append(Entry(from_ledger(path), EntryKind.FILE, size, modified_ns))
    splits = _sizes_at_which_files_were_split(rolls)
    return {
        roll.pk: describe(_listing(entries[roll.pk]), _around(roll, splits.get(roll.pk, ())), media[roll.pk], {})
        for roll in rolls
    }


def _sizes_at_which_files_were_split(rolls: Sequence[Roll]) -> dict[int, tuple[int, ...]]:
    takes = Take.objects.filter(roll__in=rolls, listing__insertion__largest_file__gt=0)
    found: dict[int, tuple[int, ...]] = {}
    for pk, size in takes.values_list("roll", "listing__insertion__largest_file").distinct():
        if size:
            found[pk] = (*found.get(pk, ()), size)
    return found


def _listing(files: Sequence[Entry]) -> Listing:
    folders = {folder for entry in files for folder in _above(entry.path)}
    entries = [*files, *(Entry(folder, EntryKind.FOLDER) for folder in folders)]
    return Listing(tuple(sorted(entries, key=lambda entry: entry.path)))


def _above(path: str) -> Iterable[str]:
    while path := path.rpartition("/")[0]:
        yield path


def _around(roll: Roll, splits: tuple[int, ...]) -> Circumstances:
    """As when it was taken, so that the same facts come to the same."""
    production = roll.production
    return Circumstances(
        zone=ZoneInfo(production.time_zone), now=roll.opened_at, first_day=production.first_day,
        clock=roll.camera.as_clock(), largest_files=splits,
    )  # fmt: skip


def _shot(found: CardDescription) -> Shot:
    clips = found.clips
    recordings = [clip for clip in clips if clip.kind in _RECORDINGS]
    timed = [(clip.starts.timestamp(), max(_SHORTEST_S, clip.duration_s)) for clip in clips if clip.starts]
    return Shot(
        len(clips), round(sum(clip.duration_s for clip in recordings), 3),
        sum(not clip.duration_s for clip in recordings),
        [(round(start, 2), round(length, 2)) for start, length in timed],
    )  # fmt: skip
