"""Files that were on a card and are not on it any more: news, whatever became of them."""

from django.db import connection

from ruggedraft.core.redundancy import FileFact

from .models import CardListing, GoneFile

_MISSED = """
WITH earlier AS (
    SELECT id FROM intake_cardlisting WHERE card_id = %(card)s AND id < %(before)s ORDER BY id DESC LIMIT 5
), known AS (
    SELECT DISTINCT ON (path, size, modified_ns) path, size, modified_ns, fingerprint FROM intake_listedentry
    WHERE listing_id IN (SELECT id FROM earlier) AND fingerprint <> '' ORDER BY path, size, modified_ns, listing_id DESC
), was AS (
    SELECT o.path, o.kind, o.size, o.modified_ns, COALESCE(NULLIF(o.fingerprint, ''), k.fingerprint, '') AS fingerprint
    FROM intake_listedentry o
    LEFT JOIN known k ON k.path = o.path AND k.size = o.size AND k.modified_ns = o.modified_ns
    WHERE o.listing_id = %(before)s AND o.kind = 'file'
)
SELECT was.path, was.size, was.modified_ns, was.fingerprint, n.modified_ns, n.fingerprint
FROM was
LEFT JOIN intake_listedentry n ON n.listing_id = %(now)s
  AND n.path = was.path AND n.size = was.size AND n.kind = was.kind
WHERE n.id IS NULL OR n.modified_ns <> was.modified_ns OR (n.fingerprint <> was.fingerprint AND n.fingerprint <> '')
"""
"""A listing that was made as a run began has no fingerprints: what the ones before it knew of a file is known."""


def note_gone(listing: CardListing) -> None:
    """Compare a card's listing with the one before it, and note what is missing, inside the caller's transaction.

    A file that has another time by whole quarter hours is still there: FAT keeps local time. One with other bytes at
    its ends is gone, though another has its name, size and time. Listings that begin at another depth of a card say
    nothing about one another. Safe to call again when more is known of a listing.
    """
    if listing.card_id is None:
        return
    earlier = CardListing.objects.filter(card=listing.card_id, pk__lt=listing.pk, depth=listing.depth)
    before = earlier.order_by("-id").first()
    if before is None:
        return
    known = set(GoneFile.objects.filter(missed=listing).values_list("path", flat=True))
    with connection.cursor() as cursor:
        cursor.execute(_MISSED, {"card": listing.card_id, "before": before.pk, "now": listing.pk})
        rows = cursor.fetchall()
    gone = [row[:4] for row in rows if row[0] not in known and not _is_still_there(*row)]
    GoneFile.objects.bulk_create(
        (
            GoneFile(
                card_id=listing.card_id, seen=before, missed=listing, path=path, size=size, modified_ns=modified_ns,
                fingerprint=fingerprint,
            )
            for path, size, modified_ns, fingerprint in gone
        ),
        batch_size=2000,
    )  # fmt: skip


def _is_still_there(
    path: str, size: int, modified_ns: int, fingerprint: str, here_ns: int | None, here_fingerprint: str | None
) -> bool:
    if here_ns is None:
        return False
    was, here = FileFact(path, size, modified_ns, fingerprint), FileFact(path, size, here_ns, here_fingerprint or "")
    return was.is_surely(here) or was.may_be(here)
