"""Signing in and out, and who is signed in."""

import threading

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.db import transaction
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router
from ninja.utils import check_csrf
from pydantic import BaseModel

from ruggedraft.core.errors import ActRefused, NotPermitted
from ruggedraft.crew.models import Role
from ruggedraft.crew.permissions import May, may
from ruggedraft.journal.writing import write
from ruggedraft.live.letting_go import let_go
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.queries import productions
from ruggedraft.project.clients import client_address

from ..shapes import Done, Problem
from ..who import who

router = Router(tags=["session"])


_WRONG = "That name and password do not belong together. After ten tries, wait a quarter of an hour."


class ProductionName(BaseModel):
    """slug: its name in addresses."""

    slug: str
    name: str


class Me(BaseModel):
    """may: the acts this person's role allows, by name. standins: simulated readers are there to play with.

    productions: those this person works on, the newest first
    """

    username: str
    name: str
    role: str
    may: list[str]
    standins: bool
    productions: list[ProductionName]


class SignIn(BaseModel):
    username: str
    password: str


@router.get("", response={200: Me | None}, auth=None)
def who_am_i(request: HttpRequest) -> Me | None:
    get_token(request)
    return _me(request) if request.user.is_authenticated else None


_HASHING = threading.BoundedSemaphore(2)
"""Passwords are slow to check on purpose. Many who sign in at once wait here, holding nothing that others need."""
_MOST_NAME, _MOST_PASSWORD = 150, 4096


@router.post("", response={200: Me, 403: Problem, 409: Problem}, auth=None)
def sign_in(request: HttpRequest, given: SignIn) -> Me:
    if check_csrf(request):
        raise NotPermitted("Signing in needs this page's own token: load the page again.")
    if len(given.username) > _MOST_NAME or len(given.password) > _MOST_PASSWORD:
        raise ActRefused(_WRONG)
    with _HASHING:
        person = authenticate(request, username=given.username, password=given.password)
        let_go()
    if person is None:
        raise ActRefused(_WRONG)
    with transaction.atomic():
        login(request, person)
        write("sign in", person.username, f"{person.shown_name} signed in.", person=person, origin=_address(request))
    return _me(request)


@router.delete("", response=Done)
def sign_out(request: HttpRequest) -> Done:
    with transaction.atomic():
        person = who(request)
        write("sign out", person.username, f"{person.shown_name} signed out.", person=person, origin=_address(request))
        logout(request)
        changed(Topic.SESSION)
    return Done()


def _me(request: HttpRequest) -> Me:
    person = who(request)
    return Me(
        username=person.username,
        name=person.shown_name,
        role=Role(person.role).label,
        may=[act.name.lower() for act in May if may(person, act)],
        standins=settings.STANDINS,
        productions=[ProductionName(slug=one.slug, name=one.name) for one in productions()],
    )


def _address(request: HttpRequest) -> str:
    return client_address(request)[:80]
