"""Tally and Find as somebody looks at them: views that they keep, and what changed since they last looked."""

from datetime import datetime

from django.http import HttpRequest
from ninja import Path, Router
from pydantic import BaseModel

from ruggedraft.core.last_look import Became
from ruggedraft.core.redundancy import RollState
from ruggedraft.live.snapshot import one_moment
from ruggedraft.productions.queries import production_named
from ruggedraft.views.acts.keep_view import drop_view, keep_view
from ruggedraft.views.acts.say_looked import say_looked
from ruggedraft.views.models import ViewOf
from ruggedraft.views.queries import Acts, Since, since_last_look, views_of

from ..finding.shapes import FindIn
from ..rolls.shapes import SoughtIn
from ..shapes import REFUSED, Done
from ..who import who

router = Router(tags=["tally"])
of_find = Router(tags=["find"])


class ViewIn(BaseModel):
    """name: one of the same name is replaced."""

    name: str
    sought: SoughtIn


class ViewOut(ViewIn):
    id: int


class QuestionIn(BaseModel):
    """What Find is often asked. name: one of the same name is replaced."""

    name: str
    sought: FindIn


class QuestionOut(QuestionIn):
    id: int


class RollChangeOut(BaseModel):
    """A roll that is not as you know it. state: how it stands now"""

    tag: str
    became: Became
    state: RollState


class SinceOut(BaseModel):
    """at: when you last said that you had looked; null: never, or nobody is signed in

    cleared, called_back: labels of cards. clearance, revocation: ids of the last of them, to hand in with `looked`
    """

    at: datetime | None
    rolls: list[RollChangeOut]
    cleared: list[str]
    called_back: list[str]
    clearance: int
    revocation: int

    @classmethod
    def of(cls, one: Since) -> "SinceOut":
        return cls(
            at=one.at, cleared=list(one.cleared), called_back=list(one.called_back),
            rolls=[RollChangeOut(tag=one.tags[it.roll], became=it.became, state=it.state) for it in one.rolls],
            clearance=one.until.clearance, revocation=one.until.revocation,
        )  # fmt: skip


class LookedIn(BaseModel):
    """What you were shown. rolls: by tag, how each stood. clearance, revocation: the last that it told of, by id"""

    rolls: dict[str, RollState]
    clearance: int = 0
    revocation: int = 0


@router.get("/views", response=list[ViewOut])
def views(request: HttpRequest, production: Path[str]) -> list[ViewOut]:
    """Yours."""
    return [
        ViewOut(id=one.pk, name=one.name, sought=SoughtIn(**one.sought))
        for one in views_of(who(request), production_named(production), ViewOf.TALLY)
    ]


@router.post("/views", response={200: Done, **REFUSED})
def keep(request: HttpRequest, production: Path[str], given: ViewIn) -> Done:
    said = given.sought.model_dump(mode="json", exclude_defaults=True)
    keep_view(who(request), production_named(production), given.name, said)
    return Done()


@router.delete("/views/{int:view_id}", response={200: Done, **REFUSED})
def drop(request: HttpRequest, production: Path[str], view_id: int) -> Done:
    drop_view(who(request), production_named(production), view_id)
    return Done()


@of_find.get("/views", response=list[QuestionOut])
def questions(request: HttpRequest, production: Path[str]) -> list[QuestionOut]:
    """Yours."""
    return [
        QuestionOut(id=one.pk, name=one.name, sought=FindIn(**one.sought))
        for one in views_of(who(request), production_named(production), ViewOf.FIND)
    ]


@of_find.post("/views", response={200: Done, **REFUSED})
def keep_question(request: HttpRequest, production: Path[str], given: QuestionIn) -> Done:
    said = given.sought.model_dump(mode="json", exclude_defaults=True)
    keep_view(who(request), production_named(production), given.name, said, ViewOf.FIND)
    return Done()


@of_find.delete("/views/{int:view_id}", response={200: Done, **REFUSED})
def drop_question(request: HttpRequest, production: Path[str], view_id: int) -> Done:
    drop_view(who(request), production_named(production), view_id)
    return Done()


@router.get("/since", response=SinceOut)
@one_moment()
def since(request: HttpRequest, production: Path[str]) -> SinceOut:
    """What is otherwise than when you last looked."""
    return SinceOut.of(since_last_look(who(request), production_named(production)))


@router.post("/looked", response={200: Done, **REFUSED})
def looked(request: HttpRequest, production: Path[str], given: LookedIn) -> Done:
    """Say that you have seen this; what happened since it was shown is told of later."""
    say_looked(who(request), production_named(production), given.rolls, Acts(given.clearance, given.revocation))
    return Done()
