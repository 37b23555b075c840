"""What screens and acts read about cards and readers."""

import threading
from collections.abc import Iterable
from typing import Protocol

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
    return {listing.card_id: listing for listing in newest.select_related("insertion")}


class Listed(Protocol):
    """A listing, or what somebody read of its row."""

    @property
    def pk(self) -> int: ...
    @property
    def digest(self) -> str: ...
    @property
    def version(self) -> int: ...


def listed_facts(listings: Iterable[Listed]) -> dict[int, tuple[FileFact, ...]]:
    """What each listing names, as redundancy sees it, by the listing's id. Rows and not models: there are many.

    A listing is written as a whole and only gains fingerprints, so each version is read once a process, as long as
    there is room.
    """
    keys = {listing.pk: (listing.pk, f"{listing.digest} {listing.version}") for listing in listings}
    with _keeping:
        found = {pk: _kept[key] for pk, key in keys.items() if key in _kept}
    read: dict[int, list[FileFact]] = {pk: [] for pk in keys.keys() - found.keys()}
    rows = ListedEntry.objects.filter(listing__in=read).order_by("listing_id", "path")
    columns = ("listing", "path", "kind", "size", "modified_ns", "fingerprint")
    for listing, path, kind, size, modified_ns, fingerprint in rows.values_list(*columns):
        read[listing].append(file_fact(path, kind, size, modified_ns, fingerprint))
    found |= {pk: tuple(facts) for pk, facts in read.items()}
    with _keeping:
        _kept.update({keys[pk]: found[pk] for pk in read})
        while len(_kept) > 1 and sum(map(len, _kept.values())) > _MOST_FACTS:
            del _kept[next(iter(_kept))]
    return found


_kept: dict[tuple[int, str], tuple[FileFact, ...]] = {}
_MOST_FACTS = 300_000
_keeping = threading.Lock()


def file_fact(path: str, kind: str, size: int, modified_ns: int, fingerprint: str = "") -> FileFact:
    """A listed entry as redundancy sees it. What is not a file gets a size no file has, so that nothing covers it."""
    return FileFact(path, size if kind == "file" else -1, modified_ns, fingerprint)
