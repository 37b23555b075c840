"""Accounts of rolls, cards, days and stores, file by file: made by edition, and handed out in three forms."""

from datetime import datetime

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router
from pydantic import BaseModel

from ruggedraft.accounts.acts.make_account import ask_paper, make_account
from ruggedraft.accounts.models import Edition
from ruggedraft.accounts.queries import WHOLE, edition_with, editions_of, paper_made, paper_of, read_edition
from ruggedraft.core.accounts import AccountOn
from ruggedraft.productions.queries import production_named
from ruggedraft.reports.account_table import account_table
from ruggedraft.reports.papers import being_made, have_papers_made, is_on_its_way

from ..answers import described_as, sent
from ..shapes import REFUSED, Done
from ..who import who

router = Router(tags=["accounts"])


class AccountEditionOut(BaseModel):
    """files, of: so many stand on its paper by now, of how many. made: it is there. trouble: why there is none

    being_made: somebody asked for its paper, and it is not there yet
    """

    id: int
    number: int
    at: datetime
    by: str
    sha256: str
    made: bool
    being_made: bool
    files: int
    of: int
    trouble: str

    @classmethod
    def of_row(cls, row: Edition, *, busy: bool) -> "AccountEditionOut":
        paper = paper_of(row)
        made = paper is not None and paper.made
        return cls(
            id=row.pk, number=row.number, at=row.at, by=row.by.shown_name, sha256=row.sha256, made=made,
            being_made=paper is not None and is_on_its_way(paper, busy=busy),
            files=paper.done if paper else 0, of=paper.of if paper else 0, trouble=paper.trouble if paper else "",
        )  # fmt: skip


class MadeOut(BaseModel):
    """Of the edition."""

    id: int
    number: int


@router.get("/editions/{edition_id}/account.json", openapi_extra=described_as("application/json"),
            response={**REFUSED})  # fmt: skip
def as_json(request: HttpRequest, production: Path[str], edition_id: int) -> HttpResponse:
    """By the schema in docs/account.schema.json."""
    row = edition_with(production_named(production), edition_id)
    return sent(WHOLE.dump_json(read_edition(row), indent=1), "application/json", _name(row, "json"), "attachment")


@router.get("/editions/{edition_id}/account.csv", openapi_extra=described_as("text/csv"), response={**REFUSED})
def as_table(request: HttpRequest, production: Path[str], edition_id: int) -> HttpResponse:
    """A line a file."""
    row = edition_with(production_named(production), edition_id)
    return sent(account_table(read_edition(row)), "text/csv; charset=utf-8", _name(row, "csv"), "attachment")


@router.get("/editions/{edition_id}/account.pdf", openapi_extra=described_as("application/pdf"), response={**REFUSED})
def as_paper(request: HttpRequest, production: Path[str], edition_id: int) -> HttpResponse:
    """Once it is made."""
    row = edition_with(production_named(production), edition_id)
    return sent(paper_made(row), "application/pdf", _name(row, "pdf"))


@router.post("/editions/{edition_id}/paper", response={200: Done, **REFUSED})
def paper(request: HttpRequest, production: Path[str], edition_id: int) -> Done:
    """Have it put on paper, or go on where that was broken off."""
    ask_paper(who(request), edition_with(production_named(production), edition_id))
    have_papers_made()
    return Done()


@router.get("/{on}/{about}", response={200: list[AccountEditionOut], **REFUSED})
def editions(request: HttpRequest, production: Path[str], on: AccountOn, about: str) -> list[AccountEditionOut]:
    """Those that were made of a roll, a card, a store or a day, newest first."""
    busy = being_made()
    return [AccountEditionOut.of_row(row, busy=busy) for row in editions_of(production_named(production), on, about)]


@router.post("/{on}/{about}", response={200: MadeOut, **REFUSED})
def make(request: HttpRequest, production: Path[str], on: AccountOn, about: str) -> MadeOut:
    """The account as things are now; the last edition, where nothing has changed since."""
    row = make_account(who(request), production_named(production), on, about)
    return MadeOut(id=row.pk, number=row.number)


def _name(row: Edition, ending: str) -> str:
    about = "".join(sign if (sign.isalnum() and sign.isascii()) or sign in "-." else "-" for sign in row.about)
    return f"account-{row.on}-{about}-edition-{row.number}.{ending}"
