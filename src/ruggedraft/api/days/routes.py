"""Shoot days: the account of each, as it is now and as it was frozen, and the same as papers."""

from datetime import date, datetime

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router
from pydantic import BaseModel

from ruggedraft.core.accounts import DayAccount, DayFigures
from ruggedraft.days.models import FrozenDay
from ruggedraft.days.queries import ACCOUNT, day_account, days_of, frozen_days
from ruggedraft.live.snapshot import one_moment
from ruggedraft.live.together import asked_together
from ruggedraft.productions.queries import production_named
from ruggedraft.reports.day_table import day_table
from ruggedraft.reports.documents.day import day_paper

from ..answers import described_as, sent
from ..shapes import REFUSED

router = Router(tags=["days"])


class EditionOut(BaseModel):
    """An account that was frozen when somebody handed over."""

    id: int
    at: datetime
    by: str

    @classmethod
    def of(cls, row: FrozenDay) -> "EditionOut":
        return cls(id=row.pk, at=row.at, by=row.by.shown_name)


class DayAccountOut(BaseModel):
    """edition: the frozen one that this is, null for how things are now. sealed: the journal holds its checksum

    editions: those that were frozen, oldest first
    """

    account: DayAccount
    edition: EditionOut | None
    sealed: bool
    editions: list[EditionOut]


@router.get("", response=list[DayFigures])
@asked_together
@one_moment()
def days(request: HttpRequest, production: Path[str]) -> list[DayFigures]:
    """Every day beside the others, newest first."""
    return days_of(production_named(production))


@router.get("/{day}", response={200: DayAccountOut, **REFUSED})
@one_moment()
def day(request: HttpRequest, production: Path[str], day: Path[date], edition: int | None = None) -> DayAccountOut:
    """edition: id of a frozen account, word for word; without it how things are now, what came later marked."""
    here = production_named(production)
    editions = [EditionOut.of(row) for row in frozen_days(here, day)]
    found = day_account(here, day, edition)
    return DayAccountOut(
        account=found.account, edition=next((one for one in editions if one.id == found.id), None),
        sealed=found.sealed, editions=editions,
    )  # fmt: skip


@router.get("/{day}/account.json", openapi_extra=described_as("application/json"), response={**REFUSED})
@one_moment()
def as_json(request: HttpRequest, production: Path[str], day: Path[date], edition: int | None = None) -> HttpResponse:
    """By the schema in docs/day-account.schema.json."""
    found = day_account(production_named(production), day, edition)
    return sent(ACCOUNT.dump_json(found.account, indent=2), "application/json", f"day-{day}.json")


@router.get("/{day}/account.csv", openapi_extra=described_as("text/csv"), response={**REFUSED})
@one_moment()
def as_table(request: HttpRequest, production: Path[str], day: Path[date], edition: int | None = None) -> HttpResponse:
    """A line a roll."""
    found = day_account(production_named(production), day, edition)
    return sent(day_table(found.account), "text/csv; charset=utf-8", f"day-{day}.csv")


@router.get("/{day}/account.pdf", openapi_extra=described_as("application/pdf"), response={**REFUSED})
@one_moment()
def as_paper(request: HttpRequest, production: Path[str], day: Path[date], edition: int | None = None) -> HttpResponse:
    here = production_named(production)
    found = day_account(here, day, edition)
    return sent(day_paper(found, days_of(here)), "application/pdf", f"day-{day}.pdf")
