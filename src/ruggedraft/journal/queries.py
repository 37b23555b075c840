"""What the Log reads."""

from django.db.models import Q

from .models import JournalEntry


def entries_before(production: int, before: int | None, most: int) -> tuple[list[JournalEntry], int | None]:
    """Entries older than one, newest first; and what to ask for to get the next ones, None on the last page.

    Of a production, and those that concern all of them.
    """
    rows = JournalEntry.objects.select_related("person").order_by("-id")
    rows = rows.filter(Q(production=None) | Q(production=production))
    if before is not None:
        rows = rows.filter(pk__lt=before)
    page = list(rows[: most + 1])
    return page[:most], page[most - 1].pk if len(page) > most else None
