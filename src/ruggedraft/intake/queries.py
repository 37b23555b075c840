"""What screens and acts read about cards and readers."""

import threading
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import partial
from typing import Protocol

from cachetools import LRUCache
from django.db import transaction
from django.db.models import Q

from ruggedraft.core.errors import NotThere
from ruggedraft.core.redundancy import FileFact
from ruggedraft.kit.models import Station
from ruggedraft.productions.models import Plan, Production

from .models import Card, CardListing, FolderReader, Insertion, ListedEntry, Reader, SaidReader
from .mounts import MountTable


def ports_said(station: Station) -> set[str]:
    """Ports of its machine of which somebody said that a reader hangs on them."""
    mine = Q(station=station) if station.role else Q(station=None)
    return set(SaidReader.objects.filter(mine, withdrawn_at=None).values_list("port", flat=True))


def folders_said(station: Station) -> dict[str, bool]:
    """Folders of its machine of which somebody said that they are readers, and whether they hold finals."""
    mine = Q(station=station) if station.role else Q(station=None)
    return dict(FolderReader.objects.filter(mine, ended_at=None).values_list("path", "finals"))


@dataclass(frozen=True)
class KnownReader:
    """A reader as the set-up lists it. folder: its path, where it is a folder that somebody said is one; else empty"""

    reader: Reader
    folder: str


def readers_there() -> list[KnownReader]:
    """Those that stations see now, by station and name."""
    said = set(FolderReader.objects.filter(ended_at=None).values_list("path", flat=True))
    readers = Reader.objects.filter(gone_at=None).select_related("station").order_by("station__name", "name")
    return [
        KnownReader(one, one.path if one.port.startswith("folder ") and one.path in said else "") for one in readers
    ]


def said_to_be_cards(paths: Iterable[str], station: Station | None = None) -> set[str]:
    """Of these mount points of this machine, those of whose port somebody said that a reader hangs on it.

    station: whose machine this is; None: the server's
    """
    said = set(SaidReader.objects.filter(station=station, withdrawn_at=None).values_list("port", flat=True))
    table = MountTable()
    return {path for path in paths if table.port_at(path) in said} if said else set()


def present_insertion(card: Card) -> Insertion | None:
    """The card's stay in a reader, if it is in one now."""
    stays = Insertion.objects.filter(card=card, removed_at=None).select_related("reader__station", "card__camera")
    return stays.order_by("-id").first()


def latest_listing(card: Card) -> CardListing | None:
    return card.listings.order_by("-id").first()


def latest_listings(cards: Iterable[Card]) -> dict[int, CardListing]:
    """The latest listing of each card, by the card's id, in one query."""
    newest = CardListing.objects.filter(card__in=cards).order_by("card_id", "-id").distinct("card_id")
    return {listing.card_id: listing for listing in newest.select_related("insertion") if listing.card_id}


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
    fresh = {keys[pk]: found[pk] for pk in read if len(found[pk]) < _MOST_FACTS}
    transaction.on_commit(partial(_keep, fresh))  # what was read in a transaction that is undone never was
    return found


def _keep(fresh: Mapping[tuple[int, str], tuple[FileFact, ...]]) -> None:
    with _keeping:
        _kept.update(fresh)


_MOST_FACTS = 300_000
_kept: LRUCache[tuple[int, str], tuple[FileFact, ...]] = LRUCache(_MOST_FACTS, getsizeof=len)
_keeping = threading.Lock()


def file_fact(path: str, kind: str, size: int, modified_ns: int, fingerprint: str = "") -> FileFact:
    """A listed entry as redundancy sees it. What is not a file gets a size no file has, so that nothing covers it."""
    return FileFact(path, size if kind == "file" else -1, modified_ns, fingerprint)


def card_of(production: Production, card_id: int) -> Card:
    """A card of one of a production's cameras, with what acts need. Raises NotThere."""
    cards = Card.objects.filter(camera__production=production)
    found = cards.select_related("camera__production__rule", "camera__plan").filter(pk=card_id).first()
    if found is None:
        raise NotThere(f"There is no such card in {production.name}.")
    return found


def card_named(production: Production, label: str) -> Card:
    """The same by its label, whatever its case. Raises NotThere."""
    cards = Card.objects.filter(camera__production=production, label__iexact=label.strip())
    found = cards.select_related("camera__production__rule", "camera__plan").first()
    if found is None:
        raise NotThere(f"There is no card {label} in {production.name}.")
    return found


def insertion_in(production: Production, insertion_id: int) -> Insertion:
    """A stay in a reader, over or not, of a card of a production or of one that nobody knows. Raises NotThere."""
    mine = Q(card__camera__production=production) | Q(card__camera=None)
    found = Insertion.objects.select_related("reader").filter(mine, pk=insertion_id).first()
    if found is None:
        raise NotThere("There was no such stay of a card in a reader.")
    return found


def reader_with(reader_id: int) -> Reader:
    """Raises NotThere."""
    found = Reader.objects.filter(pk=reader_id).first()
    if found is None:
        raise NotThere("There is no such reader.")
    return found


def last_read_with(plan: Plan) -> CardListing | None:
    """Of the cards whose cameras have this plan, the last listing of the one that was read last and held a file."""
    listings = CardListing.objects.filter(card__camera__plan=plan, files__gt=0).order_by("-began_at")
    found = listings.select_related("card__camera__production", "insertion").first()
    if found is None or found.card is None:
        return found
    return latest_listing(found.card) or found
