import time
from collections.abc import Callable, Iterable, Iterator

from django.db import transaction

from ruggedraft.core.cards import FileRole
from ruggedraft.core.cards.media import MediaFacts, read_media, read_preview
from ruggedraft.core.cards.media.reading import has_header
from ruggedraft.core.errors import SourceVanished
from ruggedraft.core.sources import CardSource, Entry, to_ledger
from ruggedraft.footage.models import Media
from ruggedraft.footage.queries import gear_named
from ruggedraft.journal.clock import now
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..contents import describe_listing
from ..models import CardListing, EntryMedia, Insertion, ListedEntry
from ..readers import open_card

_FIRST_TELLING = 1.0  # seconds; each later one takes three times as long: a large card is not told over and over
_MOST_AT_ONCE = 2000

after_headers: list[Callable[[CardListing], object]] = []
"""What is to be done once a listing's headers are known; apps above this one add to it."""


def read_headers(listing: CardListing) -> None:
    """Read the headers and embedded previews of a listing's recordings, telling screens ever less often.

    Stops without a word when the card is pulled or listed anew. What was read stays; the rest is read another time.
    """
    insertion = Insertion.objects.select_related("reader__station").get(pk=listing.insertion_id)
    rows = {row.path: row.pk for row in ListedEntry.objects.filter(listing=listing).only("id", "path")}
    known = set(EntryMedia.objects.filter(entry__listing=listing).values_list("entry_id", flat=True))
    try:
        source = open_card(insertion)
        for batch in _in_batches(_read(source, listing, rows, known)):
            if not _keep(listing, batch):
                return
    except SourceVanished:
        return
    CardListing.objects.filter(pk=listing.pk).update(headers_read_at=now())
    for step in after_headers:
        step(listing)
    changed(Topic.MEDIA)


def _read(
    source: CardSource, listing: CardListing, rows: dict[str, int], known: set[int]
) -> Iterator[tuple[int, MediaFacts, bytes | None]]:
    """Of each clip the recording itself; where that carries no preview, the first of its other files that does."""
    for clip in describe_listing(listing).clips:
        others = clip.of_role(FileRole.THUMBNAIL, FileRole.ALTERNATE)
        for entry in (clip.main, *others):
            pk = rows[to_ledger(entry.path)]
            if pk in known:
                break
            found = _read_one(source, entry)
            if found is None:
                continue
            yield pk, *found
            if found[1] is not None:
                break


def _read_one(source: CardSource, entry: Entry) -> tuple[MediaFacts, bytes | None] | None:
    if not has_header(entry.path):
        return None
    facts = read_media(source, entry)
    return None if facts is None else (facts, read_preview(source, entry, facts))


def _in_batches(
    found: Iterable[tuple[int, MediaFacts, bytes | None]],
) -> Iterator[list[tuple[int, MediaFacts, bytes | None]]]:
    batch: list[tuple[int, MediaFacts, bytes | None]] = []
    told, wait = time.monotonic(), _FIRST_TELLING
    for one in found:
        batch.append(one)
        if len(batch) >= _MOST_AT_ONCE or time.monotonic() - told > wait:
            yield batch
            batch, told, wait = [], time.monotonic(), 3 * wait
    yield batch


@transaction.atomic
def _keep(listing: CardListing, batch: list[tuple[int, MediaFacts, bytes | None]]) -> bool:
    """False when nobody needs this listing's headers any more."""
    stay = Insertion.objects.filter(pk=listing.insertion_id, removed_at=None)
    newest = CardListing.objects.filter(insertion=listing.insertion_id).order_by("-id").values_list("pk", flat=True)
    if not stay.exists() or newest[0] != listing.pk:
        return False
    gear = gear_named({facts.gear for _, facts, _ in batch})
    made = Media.objects.bulk_create(
        Media(facts=facts.as_data(), preview=preview, gear_id=gear.get(facts.gear)) for _, facts, preview in batch
    )
    EntryMedia.objects.bulk_create(
        (EntryMedia(entry_id=pk, media=media) for (pk, _, _), media in zip(batch, made, strict=True)),
        ignore_conflicts=True,
    )
    if batch:
        changed(Topic.MEDIA)
    return True
