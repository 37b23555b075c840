"""What screens and acts read about cards and readers."""

from collections.abc import Iterable

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


def listed_facts(listings: Iterable[CardListing]) -> dict[int, list[FileFact]]:
    """What each listing names, as redundancy sees it, by the listing's id. Rows and not models: there are many."""
    found: dict[int, list[FileFact]] = {listing.pk: [] for listing in listings}
    rows = ListedEntry.objects.filter(listing__in=found).order_by("listing_id", "path")
    for listing, path, kind, size, modified_ns in rows.values_list("listing", "path", "kind", "size", "modified_ns"):
        found[listing].append(file_fact(path, kind, size, modified_ns))
    return found


def file_fact(path: str, kind: str, size: int, modified_ns: int) -> FileFact:
    """A listed entry as redundancy sees it. What is not a file gets a size no file has, so that nothing covers it."""
    return FileFact(path, size if kind == "file" else -1, modified_ns)
