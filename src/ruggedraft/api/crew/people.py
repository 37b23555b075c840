"""The crew: who is on it, in which role, and how somebody joins."""

from django.http import HttpRequest
from ninja import Path, Router
from pydantic import BaseModel

from ruggedraft.crew.accounts import LINK_LIFE
from ruggedraft.crew.acts.change_person import give_role, take_off, take_on_again
from ruggedraft.crew.acts.invite import invite, link_for_password
from ruggedraft.crew.queries import everybody, person_with
from ruggedraft.crew.roles import ROLES

from ..shapes import REFUSED, Done
from ..who import who

router = Router(tags=["people"])


class RoleOut(BaseModel):
    """role: as acts take it. words: as people say it. does: what somebody in it may do, in a sentence."""

    role: str
    words: str
    does: str


class PersonOut(BaseModel):
    """active: signs in. you: the person who asks."""

    id: int
    username: str
    name: str
    role: str
    active: bool
    you: bool


class CrewOut(BaseModel):
    people: list[PersonOut]
    roles: list[RoleOut]


class RoleIn(BaseModel):
    role: str


class SecretOut(BaseModel):
    """What the link carries; it is told once. hours: how long it works."""

    secret: str
    hours: int


@router.get("", response=CrewOut)
def crew(request: HttpRequest) -> CrewOut:
    me = who(request)
    people = [
        PersonOut(
            id=one.pk,
            username=one.username,
            name=one.shown_name,
            role=one.role,
            active=one.is_active,
            you=one.pk == me.pk,
        )
        for one in everybody()
    ]
    return CrewOut(people=people, roles=[RoleOut(role=role, words=words, does=does) for role, words, does in ROLES])


@router.post("/invitations", response={200: SecretOut, **REFUSED})
def invite_somebody(request: HttpRequest, given: RoleIn) -> SecretOut:
    return _told(invite(who(request), given.role))


@router.post("/{person_id}/password-link", response={200: SecretOut, **REFUSED})
def password_link(request: HttpRequest, person_id: Path[int]) -> SecretOut:
    return _told(link_for_password(who(request), person_with(person_id)))


@router.put("/{person_id}/role", response={200: Done, **REFUSED})
def change_role(request: HttpRequest, person_id: Path[int], given: RoleIn) -> Done:
    give_role(who(request), person_with(person_id), given.role)
    return Done()


@router.delete("/{person_id}", response={200: Done, **REFUSED})
def take_somebody_off(request: HttpRequest, person_id: Path[int]) -> Done:
    take_off(who(request), person_with(person_id))
    return Done()


@router.post("/{person_id}/again", response={200: Done, **REFUSED})
def take_somebody_on_again(request: HttpRequest, person_id: Path[int]) -> Done:
    take_on_again(who(request), person_with(person_id))
    return Done()


def _told(secret: str) -> SecretOut:
    return SecretOut(secret=secret, hours=round(LINK_LIFE.total_seconds() / 3600))
