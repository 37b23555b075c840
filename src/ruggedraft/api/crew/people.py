"""The crew of a production: who is on it, in which role, and how somebody joins."""

from django.http import HttpRequest
from ninja import Path, Router
from pydantic import BaseModel

from ruggedraft.crew.accounts import LINK_LIFE
from ruggedraft.crew.acts.change_person import give_role, take_off, take_on_again
from ruggedraft.crew.acts.invite import invite, link_for_password
from ruggedraft.crew.queries import crew_of, known_to, member_with, person_with
from ruggedraft.crew.roles import ROLES
from ruggedraft.productions.queries import production_named

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


def _id(production: str) -> int:
    return production_named(production).pk


def _told(secret: str) -> SecretOut:
    return SecretOut(secret=secret, hours=round(LINK_LIFE.total_seconds() / 3600))
