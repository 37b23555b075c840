import hashlib
import json
from pathlib import Path

from django.db import connection, transaction

from ruggedraft.core.cards import (
    Listing,
    levels_inside,
    list_card,
    read_indexes,
    recognise,
    to_ledger,
)
from ruggedraft.core.errors import SourceVanished
from ruggedraft.journal.clock import now
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Production

from ..models import CardListing, EntryMedia, Insertion, ListedEntry
from ..readers import open_card
from .recognise_card import recognise_by_content


def read_card(insertion: Insertion) -> CardListing | None:
    """List the card in a reader and note what is on it; None, and the reason on the stay, if that did not work."""
    try:
        source = open_card(insertion)
        listing = list_card(source)
        indexes = read_indexes(listing, source)
    except SourceVanished as error:
        _note_trouble(insertion, error.sentence)
        return None
    _note_inside(insertion)
    noted = note_listing(insertion, listing, indexes)
    if noted.card_id is None:
        recognise_by_content(insertion)
    return noted


@transaction.atomic
def note_listing(
    insertion: Insertion, listing: Listing, indexes: dict[str, tuple[str, ...]] | None = None
) -> CardListing:
    """Keep a listing of a card. The same content seen again in one stay only renews the time."""
    if insertion.card and insertion.card.camera:  # no clearance is decided while a newer listing is on its way in
        Production.objects.select_for_update().get(pk=insertion.card.camera.production_id)
    insertion = Insertion.objects.select_for_update(of=("self",)).select_related("card").get(pk=insertion.pk)
    digest = digest_of(listing)
    known = insertion.listings.order_by("-id").first()
    if known and known.digest == digest:
        known.read_at = now()
        known.save(update_fields=["read_at"])
        noted = known
    else:
        noted = _keep(insertion, listing, digest, indexes or {})
    if insertion.trouble:
        insertion.trouble = ""
        insertion.save(update_fields=["trouble"])
    changed("readers", "cards")
    return noted


def digest_of(listing: Listing) -> str:
    entries = [[to_ledger(e.path), e.kind, e.size, e.modified_ns, to_ledger(e.detail)] for e in _kept(listing)]
    return hashlib.sha256(json.dumps(entries).encode()).hexdigest()


def _kept(listing: Listing) -> list:
    return [entry for entry in listing.entries if entry.needs_cover]


def _keep(insertion: Insertion, listing: Listing, digest: str, indexes: dict[str, tuple[str, ...]]) -> CardListing:
    span = listing.span_ns or (None, None)
    noted = CardListing.objects.create(
        card=insertion.card, insertion=insertion, read_at=now(), layout=recognise(listing)[:120],
        files=len(listing.files), bytes=listing.bytes, first_ns=span[0], last_ns=span[1], digest=digest,
        bare_folders=_bare_folders(listing),
        indexes={to_ledger(index): [to_ledger(name) for name in names] for index, names in indexes.items()},
    )  # fmt: skip
    _copy_entries(noted, listing)
    _move_media(noted)
    return noted


def _copy_entries(noted: CardListing, listing: Listing) -> None:
    """Through COPY: a card may hold tens of thousands of names, and people are waiting for the first screen."""
    columns = "listing_id, path, kind, size, modified_ns, detail, algorithm, checksum"
    table = ListedEntry._meta.db_table
    with connection.cursor() as cursor, cursor.copy(f"COPY {table} ({columns}) FROM STDIN") as copy:
        for e in _kept(listing):
            copy.write_row(
                (noted.pk, to_ledger(e.path), str(e.kind), e.size, e.modified_ns, to_ledger(e.detail), "", "")
            )


def _bare_folders(listing: Listing) -> list[str]:
    above = {"/".join(parts[:n]) for e in _kept(listing) if (parts := e.path.split("/")) for n in range(1, len(parts))}
    return [to_ledger(folder.path) for folder in listing.folders if folder.path not in above]


def _move_media(noted: CardListing) -> None:
    """What is known of unchanged files moves on from the card's listing before this one."""
    of_card = CardListing.objects.filter(card=noted.card) if noted.card_id else noted.insertion.listings
    before = of_card.exclude(pk=noted.pk).order_by("-id").first()
    if before is None:
        return
    media, entry = EntryMedia._meta.db_table, ListedEntry._meta.db_table
    with connection.cursor() as cursor:
        cursor.execute(
            f"UPDATE {media} m SET entry_id = n.id FROM {entry} o, {entry} n"  # noqa: S608  names of our own tables
            " WHERE m.entry_id = o.id AND o.listing_id = %s AND n.listing_id = %s"
            " AND n.path = o.path AND n.size = o.size AND n.modified_ns = o.modified_ns AND n.kind = o.kind",
            [before.pk, noted.pk],
        )


def _note_inside(insertion: Insertion) -> None:
    """Does the reader show the inside of a card? Judged by where its folder really is."""
    inside = levels_inside(Path(insertion.reader.path).resolve())
    if inside != insertion.inside:
        insertion.inside = inside
        Insertion.objects.filter(pk=insertion.pk).update(inside=inside)


def _note_trouble(insertion: Insertion, sentence: str) -> None:
    Insertion.objects.filter(pk=insertion.pk).update(trouble=sentence[:500])
    changed("readers")
