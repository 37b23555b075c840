"""Which card is in a reader, by what the ledger knows of every card."""

from django.db import connection
from django.db.models import QuerySet

from ruggedraft.core.cards import Answer, KnownCard, Seen, who_is
from ruggedraft.kit.stations import stations_away

from .folders import SEALED
from .models import Card, CardListing, CardSerial, Insertion, ListedEntry


def who_is_in(insertion: Insertion) -> Answer:
    """Judged by what the reader tells and, once it was listed, by what is on the card."""
    seen = Seen(insertion.serial, insertion.volume, insertion.capacity, package=insertion.kind == SEALED)
    serials: dict[int, set[str]] = {}
    for card, serial in CardSerial.objects.values_list("card_id", "serial"):
        serials.setdefault(card, set()).add(serial)
    elsewhere = {
        stay.card_id: stay.reader.name
        for stay in watched_stays().exclude(pk=insertion.pk).select_related("reader")
        if stay.card_id
    }
    alike = _likeness(insertion)
    known = [
        KnownCard(
            card.label,
            frozenset(serials.get(card.pk, ())),
            card.capacity,
            alike.get(card.pk, 0.0),
            elsewhere.get(card.pk, ""),
            card.kind == SEALED,
        )
        for card in Card.objects.order_by("label")
    ]
    return who_is(seen, known)


def watched_stays() -> QuerySet[Insertion]:
    """Open stays but those at machines that are away: their cards may be anywhere by now."""
    return Insertion.objects.filter(removed_at=None).exclude(reader__station__in=stations_away())


def _likeness(insertion: Insertion) -> dict[int, float]:
    """For each card, the share of what was last on it that is on this one."""
    listing = insertion.listings.order_by("-id").first()
    if listing is None or not listing.files:
        return {}
    last = CardListing.objects.exclude(card=None).order_by("card_id", "-id").distinct("card_id")
    files = {row.pk: (row.card_id, row.files) for row in last.only("id", "card_id", "files")}
    entry = ListedEntry._meta.db_table
    with connection.cursor() as cursor:
        cursor.execute(
            f"SELECT o.listing_id, count(*) FROM {entry} n JOIN {entry} o"  # noqa: S608  names of our own tables
            " ON o.path = n.path AND o.size = n.size AND o.modified_ns = n.modified_ns"
            " WHERE n.listing_id = %s AND n.kind = 'file' AND o.listing_id = ANY(%s) GROUP BY o.listing_id",
            [listing.pk, list(files)],
        )
        shared = dict(cursor.fetchall())
    return {card: shared.get(pk, 0) / count for pk, (card, count) in files.items() if card and count}
