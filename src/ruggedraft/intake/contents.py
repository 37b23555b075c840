"""What is on a card as the ledger knows it: the listing, what its headers say so far, and what follows from both."""

import threading
from dataclasses import dataclass
from operator import itemgetter
from zoneinfo import ZoneInfo

from cachetools import LRUCache

from ruggedraft.core.cards import CameraClock, CardDescription, Circumstances, describe
from ruggedraft.core.cards.media import MediaFacts
from ruggedraft.core.sources import Entry, EntryKind, Listing, from_ledger
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Camera, Production

from .models import CardListing, EntryMedia, ListedEntry


@dataclass(frozen=True)
class ListedCard:
    """A listing as the core sees it. rows: each entry's id in the ledger, by its path on the card."""

    listing: Listing
    rows: dict[str, int]


_ENTRY_KINDS = {str(kind): kind for kind in EntryKind}


def listed_card(row: CardListing) -> ListedCard:
    found = ListedEntry.objects.filter(listing=row).values_list("pk", "path", "kind", "size", "modified_ns", "detail")
    entries, rows = [], {}
    for pk, path, kind, size, modified_ns, detail in found:
        on_card = from_ledger(path)
        entries.append(Entry(on_card, _ENTRY_KINDS[kind], size, modified_ns, from_ledger(detail)))
        rows[on_card] = pk
    entries += [Entry(folder, EntryKind.FOLDER) for folder in _folders(entries, row.bare_folders)]
    entries += [Entry(from_ledger(folder), EntryKind.SYSTEM) for folder in row.closed_folders]
    return ListedCard(Listing(tuple(sorted(entries, key=itemgetter(0)))), rows)


def _folders(entries: list[Entry], bare: list[str]) -> set[str]:
    found: set[str] = set()
    for path in {entry.path.rpartition("/")[0] for entry in entries} | {from_ledger(folder) for folder in bare}:
        while path and path not in found:
            found.add(path)
            path = path.rpartition("/")[0]
    return found


def media_of(row: CardListing, listed: ListedCard) -> dict[str, MediaFacts]:
    """What headers have said so far, by path on the card."""
    paths = {pk: path for path, pk in listed.rows.items()}
    media = dict(EntryMedia.objects.filter(entry__listing=row).values_list("entry_id", "media_id"))
    with _keeping:
        facts = {pk: _said[pk] for pk in media.values() if pk in _said}
    if len(facts) < len(media):
        fresh = EntryMedia.objects.filter(entry__listing=row)
        if facts:
            fresh = fresh.filter(media__in=[pk for pk in media.values() if pk not in facts])
        read = {pk: MediaFacts.from_data(said) for pk, said in fresh.values_list("media_id", "media__facts")}
        facts |= read
        with _keeping:
            _said.update(read)
    return {paths[entry]: facts[pk] for entry, pk in media.items()}


_keeping = threading.Lock()
_said: LRUCache[int, MediaFacts] = LRUCache(50_000)
"""What headers say never changes, and is asked for again with each that is read after it."""


def describe_listing(row: CardListing) -> CardDescription:
    """The listing alone described, before any header."""
    return _describe(row, listed_card(row), {})


_lately: LRUCache[tuple[object, ...], tuple[ListedCard, CardDescription]] = LRUCache(6)
_HOUR = 3600


def described_card(row: CardListing) -> tuple[ListedCard, CardDescription]:
    """A listing, and what follows from it and the headers read so far.

    Listings never change and headers only arrive, so what follows from as many headers, the same clock and the same
    hour is kept for the next who asks: several screens look at one card.
    """
    around = circumstances_of(row)
    count = EntryMedia.objects.filter(entry__listing=row).count()
    hour = int(around.now.timestamp()) // _HOUR
    key = (row.pk, row.digest, count, hour, around.first_day, around.clock, around.largest_files, str(around.zone))
    with _keeping:
        known = _lately.get(key)
    if known is None:
        listed = listed_card(row)
        known = listed, _describe(row, listed, media_of(row, listed))
        with _keeping:
            _lately[key] = known
    return known


def _describe(row: CardListing, listed: ListedCard, media: dict[str, MediaFacts]) -> CardDescription:
    indexes = {from_ledger(index): tuple(from_ledger(n) for n in names) for index, names in row.indexes.items()}
    return describe(listed.listing, circumstances_of(row), media, indexes)


def circumstances_of(row: CardListing) -> Circumstances:
    """What the card's times are judged by: its camera's production, or the only one there is."""
    camera: Camera | None = row.card.camera if row.card else None
    production = camera.production if camera else Production.objects.order_by("-id").first()
    largest = row.insertion.largest_file
    return Circumstances(
        zone=ZoneInfo(production.time_zone if production else "UTC"),
        now=now(),
        first_day=production.first_day if production else None,
        clock=camera.as_clock() if camera else CameraClock(),
        largest_files=(largest,) if largest else (),
    )
