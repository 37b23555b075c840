"""Log: who did what, when."""

from datetime import datetime

from django.http import HttpRequest
from ninja import Router, Schema

from ruggedraft.journal.models import JournalEntry
from ruggedraft.journal.writing import find_broken_seal

router = Router(tags=["log"])
_PAGE = 100


class LogEntry(Schema):
    id: int
    at: datetime
    person: str | None
    origin: str
    act: str
    subject: str
    sentence: str


class LogOut(Schema):
    """Newest first. `before`: hand this in to get the next page; None on the last."""

    entries: list[LogEntry]
    before: int | None


class SealOut(Schema):
    """broken_at: the first entry that was tampered with, None if the whole journal is as it was written."""

    broken_at: int | None


@router.get("", response=LogOut)
def log(request: HttpRequest, before: int | None = None) -> LogOut:
    rows = JournalEntry.objects.select_related("person")
    if before is not None:
        rows = rows.filter(pk__lt=before)
    page = list(rows[: _PAGE + 1])
    entries = [
        LogEntry(
            id=e.pk,
            at=e.at,
            person=e.person.shown_name if e.person else None,
            origin=e.origin,
            act=e.act,
            subject=e.subject,
            sentence=e.sentence,
        )
        for e in page[:_PAGE]
    ]
    return LogOut(entries=entries, before=entries[-1].id if len(page) > _PAGE else None)


@router.get("/seal", response=SealOut)
def seal(request: HttpRequest) -> SealOut:
    broken = find_broken_seal()
    return SealOut(broken_at=broken.entry_id if broken else None)
