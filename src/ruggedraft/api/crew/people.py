"""The crew of a production: who is on it, in which role, and how somebody joins."""

from datetime import datetime

from django.conf import settings
from django.contrib.auth import logout
from django.http import HttpRequest, HttpResponse
from ninja import Path, Router
from pydantic import BaseModel

from ruggedraft.crew.accounts import LINK_LIFE
from ruggedraft.crew.acts.change_person import give_role, take_off, take_on_again
from ruggedraft.crew.acts.invite import invite, link_for_password
from ruggedraft.crew.acts.shared_screen import end_screen, make_screen
from ruggedraft.crew.models import Role
from ruggedraft.crew.queries import crew_of, here_in, known_to, member_with, person_with, screens_of
from ruggedraft.crew.roles import ROLES
from ruggedraft.live.together import asked_together
from ruggedraft.productions.queries import production_named

from ..screens import COOKIE, COOKIE_DAYS
from ..shapes import REFUSED, Done
from ..who import who

router = Router(tags=["people"])


class RoleOut(BaseModel):
    """role: as acts take it. words: as people say it. does: what somebody in it may do, in a sentence."""

    role: str
    words: str
    does: str


class PersonOut(BaseModel):
    """role: in this production. active: is on its crew. you: the person who asks."""

    id: int
    username: str
    name: str
    role: str
    active: bool
    you: bool


class KnownOut(BaseModel):
    """Somebody whom you work with in another production."""

    id: int
    name: str


class CrewOut(BaseModel):
    people: list[PersonOut]
    known: list[KnownOut]
    roles: list[RoleOut]


class HereOut(BaseModel):
    """Somebody who shows this production now. role: in words; empty: it is a shared screen. browsers: how many"""

    name: str
    role: str
    since: datetime
    browsers: int


class RoleIn(BaseModel):
    role: str


class SecretOut(BaseModel):
    """What the link carries; it is told once. hours: how long it works."""

    secret: str
    hours: int


@router.get("", response=CrewOut)
def crew(request: HttpRequest, production: Path[str]) -> CrewOut:
    me, here = who(request), _id(production)
    return CrewOut(
        people=[
            PersonOut(
                id=one.person.pk, username=one.person.username, name=one.person.shown_name, role=one.role,
                active=one.off_since is None, you=one.person.pk == me.pk,
            )
            for one in crew_of(here)
        ],
        known=[KnownOut(id=one.pk, name=one.shown_name) for one in known_to(me, here)],
        roles=[RoleOut(role=role, words=words, does=does) for role, words, does in ROLES],
    )  # fmt: skip


@router.get("/here", response=list[HereOut])
@asked_together
def here(request: HttpRequest, production: Path[str]) -> list[HereOut]:
    return [
        HereOut(
            name=one.name, role=Role(one.role).label if one.role else "", since=one.since, browsers=one.browsers
        )
        for one in here_in(_id(production))
    ]  # fmt: skip


@router.post("/invitations", response={200: SecretOut, **REFUSED})
def invite_somebody(request: HttpRequest, production: Path[str], given: RoleIn) -> SecretOut:
    return _told(invite(who(request), given.role, _id(production)))


@router.post("/{person_id}/password-link", response={200: SecretOut, **REFUSED})
def password_link(request: HttpRequest, production: Path[str], person_id: Path[int]) -> SecretOut:
    return _told(link_for_password(who(request), member_with(person_id, _id(production))))


@router.put("/{person_id}/role", response={200: Done, **REFUSED})
def change_role(request: HttpRequest, production: Path[str], person_id: Path[int], given: RoleIn) -> Done:
    """Of somebody on the crew, or of somebody whom you work with elsewhere, who joins it by that."""
    give_role(who(request), person_with(person_id), given.role, _id(production))
    return Done()


@router.delete("/{person_id}", response={200: Done, **REFUSED})
def take_somebody_off(request: HttpRequest, production: Path[str], person_id: Path[int]) -> Done:
    here = _id(production)
    take_off(who(request), member_with(person_id, here), here)
    return Done()


@router.post("/{person_id}/again", response={200: Done, **REFUSED})
def take_somebody_on_again(request: HttpRequest, production: Path[str], person_id: Path[int]) -> Done:
    here = _id(production)
    take_on_again(who(request), member_with(person_id, here), here)
    return Done()


screens = Router(tags=["people"])


class ScreenOut(BaseModel):
    """A browser that shows this production with nobody signed in. by: who made it one"""

    id: int
    name: str
    by: str
    at: datetime


class ScreenIn(BaseModel):
    name: str


@screens.get("", response=list[ScreenOut])
def shared_screens(request: HttpRequest, production: Path[str]) -> list[ScreenOut]:
    return [ScreenOut(id=one.pk, name=one.name, by=one.by.shown_name, at=one.at) for one in screens_of(_id(production))]


@screens.post("", response={200: Done, **REFUSED})
def share_this_screen(request: HttpRequest, production: Path[str], given: ScreenIn, answer: HttpResponse) -> Done:
    """Have this browser show the production with nobody signed in; whoever asks is signed out by it."""
    secret = make_screen(who(request), _id(production), given.name)
    logout(request)
    answer.set_cookie(
        COOKIE, secret, max_age=COOKIE_DAYS * 24 * 3600, httponly=True, samesite="Lax",
        secure=settings.SESSION_COOKIE_SECURE,
    )  # fmt: skip
    return Done()


@screens.delete("/{screen_id}", response={200: Done, **REFUSED})
def no_shared_screen(request: HttpRequest, production: Path[str], screen_id: int) -> Done:
    end_screen(who(request), _id(production), screen_id)
    return Done()


def _id(production: str) -> int:
    return production_named(production).pk


def _told(secret: str) -> SecretOut:
    return SecretOut(secret=secret, hours=round(LINK_LIFE.total_seconds() / 3600))
