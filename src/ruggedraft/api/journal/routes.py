"""Log: who did what, when."""

from django.http import HttpRequest
from ninja import Path, Router

from ruggedraft.journal.queries import entries_before
from ruggedraft.journal.writing import find_broken_seal
from ruggedraft.productions.queries import production_named

from .shapes import LogEntry, LogOut, SealOut

_PAGE = 100

router = Router(tags=["log"])


@router.get("", response=LogOut)
def log(request: HttpRequest, production: Path[str], before: int | None = None) -> LogOut:
    page, rest = entries_before(production_named(production).pk, before, _PAGE)
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
        for e in page
    ]
    return LogOut(entries=entries, before=rest)


@router.get("/seal", response=SealOut)
def seal(request: HttpRequest, production: Path[str]) -> SealOut:
    broken = find_broken_seal()
    return SealOut(broken_at=broken.entry_id if broken else None)
