"""What screens and acts read about cards and readers."""

from collections.abc import Iterable

from ruggedraft.core.cards import Entry, EntryKind, from_ledger
from ruggedraft.core.redundancy import FileFact

from .models import Card, CardListing, Insertion, ListedEntry


def present_insertion(card: Card) -> Insertion | None:
    """The card's stay in a reader, if it is in one now."""
    stays = Insertion.objects.filter(card=card, removed_at=None).select_related("reader__station", "card__camera")
    return stays.order_by("-id").first()


def latest_listing(card: Card) -> CardListing | None:
    return card.listings.order_by("-id").first()


def latest_listings(cards: Iterable[Card]) -> dict[int, CardListing]:
    """The latest listing of each card, by the card's id, in one query."""
    newest = CardListing.objects.filter(card__in=cards).order_by("card_id", "-id").distinct("card_id")
    return {listing.card_id: listing for listing in newest}


def entries_by_listing(listings: Iterable[CardListing]) -> dict[int, list[ListedEntry]]:
    found: dict[int, list[ListedEntry]] = {listing.pk: [] for listing in listings}
    for entry in ListedEntry.objects.filter(listing__in=found).order_by("listing_id", "path"):
        found[entry.listing_id].append(entry)
    return found


def file_fact(row: "ListedEntry") -> FileFact:
    """A listed entry as redundancy sees it. What is not a file gets a size no file has, so that nothing covers it."""
    size = row.size if row.kind == EntryKind.FILE else -1
    return FileFact(row.path, size, row.modified_ns)


def as_entry(row: ListedEntry) -> Entry:
    return Entry(from_ledger(row.path), EntryKind(row.kind), row.size, row.modified_ns, from_ledger(row.detail))
