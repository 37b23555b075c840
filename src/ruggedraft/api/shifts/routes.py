"""Hand-over between shifts."""

from datetime import datetime

from django.http import HttpRequest
from ninja import Path, Router
from pydantic import BaseModel

from ruggedraft.crew.models import Person
from ruggedraft.live.snapshot import one_moment
from ruggedraft.live.together import asked_together
from ruggedraft.productions.queries import production_named
from ruggedraft.shifts.acts.hand_over import hand_over, take_over
from ruggedraft.shifts.models import Matter, MatterKind
from ruggedraft.shifts.queries import handovers_of, open_matters
from ruggedraft.shifts.standing import Stands, how_things_stand

from ..shapes import REFUSED, Done
from ..who import who

router = Router(tags=["shifts"])


class StandsOut(BaseModel):
    """subject: a roll's tag, a card's label, a store's or a station's name; or empty."""

    kind: MatterKind
    subject: str
    sentence: str

    @classmethod
    def of(cls, one: Stands) -> "StandsOut":
        return cls(kind=one.kind, subject=one.subject, sentence=one.sentence)


class MatterOut(BaseModel):
    """A thing that was handed over, as it stood then. accepted_by: who took it over; empty while nobody has

    yours: you handed it over, so that somebody else takes it
    """

    id: int
    kind: MatterKind
    subject: str
    sentence: str
    by: str
    at: datetime
    yours: bool
    accepted_by: str
    accepted_at: datetime | None

    @classmethod
    def of(cls, one: Matter, me: Person) -> "MatterOut":
        return cls(
            id=one.pk, kind=MatterKind(one.kind), subject=one.subject, sentence=one.sentence,
            by=one.handover.by.shown_name, at=one.handover.at, yours=one.handover.by_id == me.pk,
            accepted_by=one.accepted_by.shown_name if one.accepted_by else "", accepted_at=one.accepted_at,
        )  # fmt: skip


class HandoverOut(BaseModel):
    """open: how many of its matters nobody has taken over."""

    id: int
    by: str
    at: datetime
    open: int
    matters: list[MatterOut]


class ShiftsOut(BaseModel):
    """open: what nobody has taken over, oldest first. last: the last hand-overs, newest first."""

    open: list[MatterOut]
    last: list[HandoverOut]


class HandoverIn(BaseModel):
    """words: what else to know, a line for each thing."""

    words: str = ""


class TakenIn(BaseModel):
    matters: list[int]


@router.get("", response=ShiftsOut)
@one_moment()
def shifts(request: HttpRequest, production: Path[str]) -> ShiftsOut:
    here, me = production_named(production), who(request)
    last = [
        HandoverOut(
            id=one.pk, by=one.by.shown_name, at=one.at,
            open=sum(matter.accepted_at is None for matter in one.matters.all()),
            matters=[MatterOut.of(matter, me) for matter in sorted(one.matters.all(), key=lambda it: it.pk)],
        )
        for one in handovers_of(here)
    ]  # fmt: skip
    return ShiftsOut(open=[MatterOut.of(one, me) for one in open_matters(here)], last=last)


@router.get("/now", response=list[StandsOut])
@asked_together
@one_moment()
def now(request: HttpRequest, production: Path[str]) -> list[StandsOut]:
    """What would be handed over now."""
    return [StandsOut.of(one) for one in how_things_stand(production_named(production))]


@router.post("", response={200: Done, **REFUSED})
def end_shift(request: HttpRequest, production: Path[str], given: HandoverIn) -> Done:
    hand_over(who(request), production_named(production), given.words)
    return Done()


@router.post("/taken", response={200: Done, **REFUSED})
def begin_shift(request: HttpRequest, production: Path[str], given: TakenIn) -> Done:
    """Take over these things, by name."""
    take_over(who(request), production_named(production), given.matters)
    return Done()
