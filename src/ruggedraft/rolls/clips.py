"""The clips of rolls, as they are understood from their files and headers."""

from collections.abc import Iterable, Sequence
from zoneinfo import ZoneInfo

from ruggedraft.core.cards import CardDescription, Circumstances, describe
from ruggedraft.core.cards.media import MediaFacts
from ruggedraft.core.sources import Entry, EntryKind, Listing, from_ledger

from .models import FileMedia, Roll, RollFile, Take


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
