"""What the Log reads."""

from .models import JournalEntry


def entries_before(before: int | None, most: int) -> tuple[list[JournalEntry], int | None]:
    """Entries older than one, newest first; and what to ask for to get the next ones, None on the last page."""
    rows = JournalEntry.objects.select_related("person").order_by("-id")
    if before is not None:
        rows = rows.filter(pk__lt=before)
    page = list(rows[: most + 1])
    return page[:most], page[most - 1].pk if len(page) > most else None
