"""Log: who did what, when."""

from collections.abc import Set

from django.http import HttpRequest
from ninja import Path, Router

from ruggedraft.clearing.queries import named_in
from ruggedraft.crew.queries import people_of
from ruggedraft.journal.kinds import ActKind, kind_of
from ruggedraft.journal.queries import Wanted, entries_before
from ruggedraft.journal.writing import find_broken_seal
from ruggedraft.productions.queries import production_named
from ruggedraft.rolls.anchors import anchors_found

from .shapes import LogEntry, LogOut, LogPerson, SealOut

_PAGE = 100
_OF_CARDS_AND_ROLLS = {ActKind.MOVES, ActKind.CARDS, ActKind.COPIES, ActKind.CLEARING}

router = Router(tags=["log"])


@router.get("", response=LogOut)
def log(
    request: HttpRequest,
    production: Path[str],
    before: int | None = None,
    kind: ActKind | None = None,
    person: str = "",
    text: str = "",
) -> LogOut:
    here = production_named(production)
    page, rest = entries_before(here.pk, before, _PAGE, Wanted(kind, person, text))
    named = named_in(here, {entry.subject for entry in page})
    people = [LogPerson(username=one.username, name=one.shown_name) for one in people_of(here.pk)]
    entries = [
        LogEntry.of(e, card=_about(e.act, e.subject, named.cards), roll=_about(e.act, e.subject, named.rolls))
        for e in page
    ]
    return LogOut(entries=entries, before=rest, people=people)


def _about(act: str, subject: str, among: Set[str]) -> str | None:
    """A camera or a store may have a roll's name, and is none for that."""
    return subject if kind_of(act) in _OF_CARDS_AND_ROLLS and subject in among else None


@router.get("/seal", response=SealOut)
def seal(request: HttpRequest, production: Path[str]) -> SealOut:
    broken, found = find_broken_seal(), anchors_found(production_named(production))
    at = broken.entry_id if broken else None
    return SealOut(broken_at=at, agree=found.agree, differ=list(found.differ), unread=found.unread)
