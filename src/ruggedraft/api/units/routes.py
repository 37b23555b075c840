"""Units away: sent out with numbers of their own, and joined later."""

from datetime import datetime

from django.http import HttpRequest, HttpResponse
from ninja import File, Path, Router
from ninja.files import UploadedFile
from pydantic import BaseModel

from ruggedraft.live.snapshot import one_moment
from ruggedraft.productions.models import UnitAway
from ruggedraft.productions.queries import production_named
from ruggedraft.units.acts.begin_as_unit import begin_as_unit, set_up_of
from ruggedraft.units.acts.hand_in import hand_in
from ruggedraft.units.acts.join_unit import join_unit
from ruggedraft.units.acts.send_unit import end_unit, send_unit
from ruggedraft.units.lines import UnitSetUp
from ruggedraft.units.models import UnitJoin
from ruggedraft.units.queries import joins_of, units_of
from ruggedraft.units.reading import MOST_BYTES

from ..shapes import REFUSED, Done
from ..who import who

router = Router(tags=["units"])


class JoinOut(BaseModel):
    """What came of a file that was taken in. rolls, copies: that were new. conflicts: sentences"""

    id: int
    unit: str
    by: str
    at: datetime
    rolls: int
    copies: int
    conflicts: list[str]

    @classmethod
    def of(cls, one: UnitJoin) -> "JoinOut":
        return cls(
            id=one.pk, unit=one.unit.name, by=one.by.shown_name, at=one.at, rolls=one.rolls, copies=one.copies,
            conflicts=one.conflicts,
        )  # fmt: skip


class UnitOut(BaseModel):
    """numbers: by camera's letter, first and last roll number that are its own. here: this ledger is the unit's."""

    id: int
    name: str
    numbers: dict[str, list[int]]
    here: bool
    by: str
    at: datetime
    ended_at: datetime | None

    @classmethod
    def of(cls, one: UnitAway) -> "UnitOut":
        return cls(
            id=one.pk, name=one.name, numbers=one.numbers, here=one.here, by=one.by.shown_name, at=one.at,
            ended_at=one.ended_at,
        )  # fmt: skip


class UnitsOut(BaseModel):
    """joins: what was handed in, newest first."""

    units: list[UnitOut]
    joins: list[JoinOut]


class UnitIn(BaseModel):
    name: str
    numbers: dict[str, tuple[int, int]]


class BegunAsUnit(BaseModel):
    """slug: of the production in addresses."""

    slug: str


@router.get("", response=UnitsOut)
@one_moment()
def units(request: HttpRequest, production: Path[str]) -> UnitsOut:
    here = production_named(production)
    return UnitsOut(
        units=[UnitOut.of(one) for one in units_of(here)], joins=[JoinOut.of(one) for one in joins_of(here)]
    )


@router.post("", response={200: Done, **REFUSED})
def send(request: HttpRequest, production: Path[str], given: UnitIn) -> Done:
    send_unit(who(request), production_named(production), given.name, given.numbers)
    return Done()


@router.delete("/{int:unit_id}", response={200: Done, **REFUSED})
def end(request: HttpRequest, production: Path[str], unit_id: int) -> Done:
    end_unit(who(request), production_named(production), unit_id)
    return Done()


@router.post("/{int:unit_id}/set-up", response={200: UnitSetUp, **REFUSED})
def set_up(request: HttpRequest, production: Path[str], unit_id: int) -> UnitSetUp:
    """What the unit begins its ledger with. It holds the unit's secret."""
    return set_up_of(who(request), production_named(production), unit_id)


@router.post("/begin", response={200: BegunAsUnit, **REFUSED})
def begin(request: HttpRequest, production: Path[str], given: UnitSetUp) -> BegunAsUnit:
    """In the ledger that a unit takes with it."""
    made = begin_as_unit(who(request), production_named(production), given)
    return BegunAsUnit(slug=made.slug)


_LINES = {"responses": {200: {"description": "OK", "content": {"application/jsonl": {}}}}}


@router.post("/hand-in", openapi_extra=_LINES, response={**REFUSED})
def hand_in_lines(request: HttpRequest, production: Path[str]) -> HttpResponse:
    """What this unit's ledger knows, as JSON Lines by docs/unit.schema.json."""
    made = b"".join(hand_in(who(request), production_named(production)))
    answer = HttpResponse(made, content_type="application/jsonl")
    answer["Content-Disposition"] = 'attachment; filename="unit.jsonl"'
    return answer


@router.post("/joins", response={200: Done, **REFUSED})
def join(request: HttpRequest, production: Path[str], file: File[UploadedFile]) -> Done:
    """Take in what a unit handed in. The same file twice changes nothing."""
    here = production_named(production)
    join_unit(who(request), here, file.read(MOST_BYTES + 1))
    return Done()
