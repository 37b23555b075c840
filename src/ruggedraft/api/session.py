"""Signing in and out, and who is signed in."""

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.db import transaction
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Role
from ruggedraft.crew.permissions import May, may
from ruggedraft.journal.writing import write

from .shapes import Done, Problem

router = Router(tags=["session"])


class Me(Schema):
    """may: the acts this person's role allows, by name. standins: simulated readers are there to play with."""

    username: str
    name: str
    role: str
    may: list[str]
    standins: bool


class SignIn(Schema):
    username: str
    password: str


@router.get("", response={200: Me | None}, auth=None)
def who_am_i(request: HttpRequest) -> Me | None:
    get_token(request)
    return _me(request) if request.user.is_authenticated else None


@router.post("", response={200: Me, 409: Problem}, auth=None)
def sign_in(request: HttpRequest, given: SignIn) -> Me:
    person = authenticate(request, username=given.username, password=given.password)
    if person is None:
        raise ActRefused("That name and password do not belong together. After ten tries, wait a quarter of an hour.")
    with transaction.atomic():
        login(request, person)
        write("sign in", person.username, f"{person.shown_name} signed in.", person=person, origin=_address(request))
    return _me(request)


@router.delete("", response=Done)
def sign_out(request: HttpRequest) -> Done:
    with transaction.atomic():
        person = request.user
        write("sign out", person.username, f"{person.shown_name} signed out.", person=person, origin=_address(request))
        logout(request)
    return Done()


def _me(request: HttpRequest) -> Me:
    person = request.user
    return Me(
        username=person.username,
        name=person.shown_name,
        role=Role(person.role).label,
        may=[act.name.lower() for act in May if may(person, act)],
        standins=settings.STANDINS,
    )


def _address(request: HttpRequest) -> str:
    return request.META.get("REMOTE_ADDR", "")
