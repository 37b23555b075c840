import hashlib
import json
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from django.db import connection, transaction

from ruggedraft.core.apart import Apart, NotAnswering
from ruggedraft.core.cards import levels_inside, read_indexes, recognise
from ruggedraft.core.errors import SourceVanished
from ruggedraft.core.sources import CardSource, Entry, EntryKind, Listing, list_card, to_ledger
from ruggedraft.journal.clock import now
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still

from ..gone import note_gone
from ..models import Card, CardListing, EntryMedia, Insertion, ListedEntry
from ..readers import open_card
from .recognise_card import recognise_by_content

_PATIENCE_S = 10.0
_SILENT = (
    f"The card has said nothing for {_PATIENCE_S:.0f} s. It is still being asked; what is on it is not known. "
    "If it stays so, take it out, look at its contacts, and try another reader."
)
_apart = Apart()
silent: set[int] = set()
"""Stays whose card was asked for its names and has not answered yet; they are asked again with every look."""


@dataclass(frozen=True)
class _Names:
    """What asking a card for its names gave, and when that began: a late answer does not speak of a later moment."""

    source: CardSource
    listing: Listing
    indexes: dict[str, tuple[str, ...]]
    began_at: datetime


def _names_on(insertion: Insertion, began_at: datetime) -> _Names:
    """Raises SourceVanished. Touches no table: it may run for as long as the card hangs."""
    source = open_card(insertion)
    listing = list_card(source)
    return _Names(source, listing, read_indexes(listing, source), began_at)


after_listing: list[Callable[[CardListing, CardSource], object]] = []
"""What is to be done with a card that was just listed, while it is open; apps above this one add to it."""

looks_known: list[Callable[[CardListing], bool]] = []
"""Whether anything on a card that was just listed looks like a file of the ledger, and has to be confirmed; apps above
this one add to it."""


def read_card(insertion: Insertion, *, glance: bool = False) -> CardListing | None:
    """List the card in a reader and note what is on it; None, and the reason on the stay, if that did not work.

    glance: names, sizes and times only. Otherwise files that look like the ledger's are confirmed by fingerprints.
    """
    began_at = now()
    insertion.reader  # noqa: B018  fetched here: what is asked apart touches no table
    try:
        found = _apart.ask(insertion.pk, lambda: _names_on(insertion, began_at), _PATIENCE_S)
    except SourceVanished as error:
        said = error.sentence.rstrip(".")
        _note_trouble(insertion, f"{said[:1].upper()}{said[1:]}. {_TRY_AGAIN}")
        return None
    except NotAnswering:
        silent.add(insertion.pk)
        _note_trouble(insertion, _SILENT)
        return None
    silent.discard(insertion.pk)
    source, listing, indexes, began_at = found.source, found.listing, found.indexes, found.began_at
    _note_inside(insertion)
    noted = note_listing(
        insertion, listing, indexes, began_at=began_at, in_passing=glance, unlike_any=_looks_like_nothing
    )
    if noted.card_id is None:
        recognise_by_content(insertion)
        noted.refresh_from_db()
    if noted.confirmed_at is None or not (glance or noted.confirmed_at == noted.began_at):
        for step in after_listing:
            step(noted, source)
    return noted


def _looks_like_nothing(listing: CardListing) -> bool:
    known = listing.card_id is not None and bool(looks_known)
    return known and not any(does(listing) for does in looks_known)


@transaction.atomic
def note_listing(
    insertion: Insertion,
    listing: Listing,
    indexes: dict[str, tuple[str, ...]] | None = None,
    *,
    began_at: datetime | None = None,
    in_passing: bool = False,
    unlike_any: Callable[[CardListing], bool] = lambda listing: False,
) -> CardListing:
    """Keep a listing of a card. The same content seen again in one stay only renews the time.

    began_at: when the card was looked at. in_passing: screens need not know at once of a time that was renewed
    unlike_any: whether nothing on it has to be confirmed: then it is
    """
    _hold_still(insertion.card)  # no clearance is decided while a newer listing is on its way in
    insertion = (
        Insertion.objects.select_for_update(no_key=True, of=("self",)).select_related("card").get(pk=insertion.pk)
    )
    names = names_of(listing)
    digest = digest_of(names)
    began_at = began_at or now()
    known = insertion.listings.order_by("-id").first()
    tell = bool(insertion.trouble) or not in_passing
    if known and known.digest == digest:
        tell = tell or _tells_the_time(known.began_at, began_at)
        known.began_at = began_at
        known.save(update_fields=["began_at"])
        noted = known
    else:
        tell, noted = True, _keep(insertion, listing, names, digest, indexes or {}, began_at)
        _see_what_is_new(noted, unlike_any)
    if insertion.trouble:
        insertion.trouble = ""
        insertion.save(update_fields=["trouble"])
    if tell:
        changed(Topic.READERS, Topic.CARDS)
    return noted


def _see_what_is_new(noted: CardListing, unlike_any: Callable[[CardListing], bool]) -> None:
    note_gone(noted)
    if unlike_any(noted):
        noted.confirmed_at = noted.began_at
        noted.save(update_fields=["confirmed_at"])


def _hold_still(card: Card | None) -> None:
    """Of a card that somebody's camera has."""
    if card and card.camera:
        hold_still(card.camera.production_id)


_TOLD_EVERY_S = 300
_GAP = timedelta(minutes=2)


def _tells_the_time(before: datetime, after: datetime) -> bool:
    """Whether it was not looked at for a while, which a rule may have minded, or another five minutes have begun.

    So old may what screens say of a card's last look become.
    """
    return after - before > _GAP or before.timestamp() // _TOLD_EVERY_S != after.timestamp() // _TOLD_EVERY_S


def _rows(listing: CardListing, paths: Iterable[str]) -> dict[str, ListedEntry]:
    return {row.path: row for row in ListedEntry.objects.filter(listing=listing, path__in=paths)}


@transaction.atomic
def note_fingerprints(listing: CardListing, found: Mapping[str, str]) -> CardListing:
    """Keep what files of a listing show at their ends, by path in the ledger's form.

    A file whose ends are others than a moment ago is another file, and that is another listing, which is returned.
    """
    _hold_still(listing.card)
    rows = _rows(listing, found)
    if any(row.fingerprint and row.fingerprint != found[path] for path, row in rows.items()):
        listing = _again(listing)
        rows = _rows(listing, found)
    fresh = [row for path, row in rows.items() if row.fingerprint != found[path]]
    for row in fresh:
        row.fingerprint = found[row.path]
    ListedEntry.objects.bulk_update(fresh, ["fingerprint"], batch_size=2000)
    listing.confirmed_at, listing.version = listing.began_at, listing.version + bool(fresh)
    listing.save(update_fields=["confirmed_at", "version"])
    note_gone(listing)
    changed(Topic.READERS, Topic.CARDS)
    return listing


def _again(listing: CardListing) -> CardListing:
    """A new row that says the same; which files are which is filled in by the caller."""
    before = listing.pk
    listing.pk, listing._state.adding, listing.compared = None, True, 0
    listing.save()
    entry = ListedEntry._meta.db_table
    kept = "path, kind, size, modified_ns, detail, fingerprint"
    with connection.cursor() as cursor:
        cursor.execute(
            f"INSERT INTO {entry} (listing_id, {kept}, algorithm, checksum)"  # noqa: S608  names of our own tables
            f" SELECT %s, {kept}, '', '' FROM {entry} WHERE listing_id = %s",
            [listing.pk, before],
        )
    return listing


Name = tuple[str, EntryKind, int, int, str]


def names_of(listing: Listing) -> list[Name]:
    """What is kept of a card: path in the ledger's form, kind, bytes, time in ns, detail in the ledger's form."""
    return [
        (to_ledger(path), kind, size, modified_ns, to_ledger(detail) if detail else "")
        for path, kind, size, modified_ns, detail, _ in listing.entries
        if kind in _NEED_COVER
    ]


_NEED_COVER = {kind for kind in EntryKind if Entry("", kind).needs_cover}


def digest_of(names: Sequence[Name]) -> str:
    return hashlib.sha256(json.dumps(names).encode()).hexdigest()


def _keep(
    insertion: Insertion,
    listing: Listing,
    names: Sequence[Name],
    digest: str,
    indexes: dict[str, tuple[str, ...]],
    began_at: datetime,
) -> CardListing:
    span = listing.span_ns or (None, None)
    noted = CardListing.objects.create(
        card=insertion.card, insertion=insertion, began_at=began_at,
        depth=max(0, insertion.inside - insertion.levels_up), layout=recognise(listing)[:120],
        files=len(listing.files), bytes=listing.bytes, first_ns=span[0], last_ns=span[1], digest=digest,
        bare_folders=_bare_folders(listing, names), closed_folders=[to_ledger(entry.path) for entry in listing.closed],
        indexes={to_ledger(index): [to_ledger(name) for name in names] for index, names in indexes.items()},
    )  # fmt: skip
    _copy_names(noted, names)
    _keep_media(noted)
    return noted


def _copy_names(noted: CardListing, names: Iterable[Name]) -> None:
    """Through COPY: a card may hold tens of thousands of names, and people are waiting for the first screen."""
    columns = "listing_id, path, kind, size, modified_ns, detail, fingerprint, algorithm, checksum"
    table = ListedEntry._meta.db_table
    with connection.cursor() as cursor, cursor.copy(f"COPY {table} ({columns}) FROM STDIN") as copy:
        for path, kind, size, modified_ns, detail in names:
            copy.write_row((noted.pk, path, kind.value, size, modified_ns, detail, "", "", ""))


def _bare_folders(listing: Listing, names: Iterable[Name]) -> list[str]:
    around = {path.rpartition("/")[0] for path, *_ in names}
    above = {
        "/".join(parts[:n]) for folder in around for parts in [folder.split("/")] for n in range(1, len(parts) + 1)
    }
    return [bare for folder in listing.folders if (bare := to_ledger(folder.path)) not in above]


def _keep_media(noted: CardListing) -> None:
    """What is known of unchanged files is known of them in the card's next listing too."""
    of_card = CardListing.objects.filter(card=noted.card) if noted.card_id else noted.insertion.listings
    before = of_card.exclude(pk=noted.pk).order_by("-id").first()
    if before is None:
        return
    media, entry = EntryMedia._meta.db_table, ListedEntry._meta.db_table
    with connection.cursor() as cursor:
        cursor.execute(
            f"INSERT INTO {media} (entry_id, media_id) SELECT n.id, m.media_id"  # noqa: S608  names of our own tables
            f" FROM {media} m JOIN {entry} o ON o.id = m.entry_id JOIN {entry} n ON n.path = o.path"
            " AND n.size = o.size AND n.modified_ns = o.modified_ns AND n.kind = o.kind"
            " WHERE o.listing_id = %s AND n.listing_id = %s",
            [before.pk, noted.pk],
        )


def _note_inside(insertion: Insertion) -> None:
    """Does the reader show the inside of a card? Judged by where its folder really is."""
    inside = levels_inside(Path(insertion.reader.path).resolve())
    if inside != insertion.inside:
        insertion.inside = inside
        Insertion.objects.filter(pk=insertion.pk).update(inside=inside)


_TRY_AGAIN = "Nothing on it was changed. Take it out and put it in again, or try another reader."


def _note_trouble(insertion: Insertion, sentence: str) -> None:
    Insertion.objects.filter(pk=insertion.pk).update(trouble=sentence[:500])
    changed(Topic.READERS)
