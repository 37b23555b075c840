"""Media facts and previews of a roll's files: taken over from the card's listing, and kept when the card is not."""

from collections.abc import Iterable
from dataclasses import dataclass

from django.db import connection
from django.db.models import BooleanField, ExpressionWrapper, Q

from ruggedraft.core.cards.media import MediaFacts
from ruggedraft.intake.models import CardListing

from .models import FileMedia, RollFile
from .queries import listing_serial


def keep_media(listing: CardListing) -> None:
    """Give files of the card's last roll what this listing knows of them, as far as they are the files listed.

    Only of a roll that was not formatted away since; the listing would speak of other recordings.
    """
    if listing.card is None:
        return
    roll = listing.card.rolls.order_by("-id").first()
    serial = listing_serial(listing)
    if roll is None or (roll.fs_serial and serial and roll.fs_serial != serial):
        return
    with connection.cursor() as cursor:
        cursor.execute(_KEEP, {"roll": roll.pk, "listing": listing.pk})


_KEEP = """
INSERT INTO rolls_filemedia (file_id, media_id)
SELECT f.id, m.media_id FROM intake_listedentry e JOIN intake_entrymedia m ON m.entry_id = e.id
JOIN rolls_rollfile f ON f.roll_id = %(roll)s AND md5(f.path) = md5(e.path) AND f.path = e.path
  AND f.size = e.size AND f.modified_ns = e.modified_ns
WHERE e.listing_id = %(listing)s ON CONFLICT DO NOTHING
"""


@dataclass(frozen=True)
class FileFootage:
    """Of a roll's file: the id under which its preview is found (0 without one), and what its header says."""

    preview: int
    facts: MediaFacts


def footage_of(files: Iterable[RollFile]) -> dict[int, FileFootage]:
    """By the file's id, in one query; only of files whose header was read."""
    seen = ExpressionWrapper(Q(media__preview__isnull=False), BooleanField())
    rows = FileMedia.objects.filter(file__in=list(files)).annotate(seen=seen)
    return {
        file: FileFootage(media if seen else 0, MediaFacts.from_data(facts))
        for file, media, facts, seen in rows.values_list("file", "media", "media__facts", "seen")
    }
