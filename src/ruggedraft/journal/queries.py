"""What the Log reads."""

from dataclasses import dataclass

from django.db.models import Q

from .kinds import ActKind, of_kind
from .models import JournalEntry


@dataclass(frozen=True)
class Wanted:
    """Which entries are asked for. Empty and None: all of them.

    person: username. text: in the subject or the sentence, whatever its case
    """

    kind: ActKind | None = None
    person: str = ""
    text: str = ""

    def filter(self) -> Q:
        found = of_kind(self.kind) if self.kind else Q()
        if self.person:
            found &= Q(person__username=self.person)
        if text := self.text.strip():
            found &= Q(subject__icontains=text) | Q(sentence__icontains=text)
        return found


def entries_before(
    production: int, before: int | None, most: int, wanted: Wanted = Wanted()
) -> tuple[list[JournalEntry], int | None]:
    """Entries older than one, newest first; and what to ask for to get the next ones, None on the last page.

    Of a production, and those that concern all of them.
    """
    rows = JournalEntry.objects.select_related("person").order_by("-id")
    rows = rows.filter(Q(production=None) | Q(production=production)).filter(wanted.filter())
    if before is not None:
        rows = rows.filter(pk__lt=before)
    page = list(rows[: most + 1])
    return page[:most], page[most - 1].pk if len(page) > most else None
