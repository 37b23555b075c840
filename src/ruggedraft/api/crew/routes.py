"""Signing in and out, and who is signed in."""

import threading
from datetime import datetime

import segno
from django.conf import settings
from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.db import transaction
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router
from ninja.errors import HttpError
from ninja.utils import check_csrf
from pydantic import BaseModel

from ruggedraft.core.errors import ActRefused, NotPermitted, NotThere
from ruggedraft.crew.acts.change_person import change_own_password
from ruggedraft.crew.acts.one_time_codes import begin_codes, code_is_right, confirm_codes, end_codes, has_codes
from ruggedraft.crew.acts.shared_screen import set_pin
from ruggedraft.crew.acts.use_link import join_as_oneself, link_with, use_link
from ruggedraft.crew.models import Person, Role, SharedScreen
from ruggedraft.crew.permissions import May
from ruggedraft.crew.queries import standings_of
from ruggedraft.crew.sessions import end_session, name_of, note_session, sessions_of
from ruggedraft.journal.writing import write_in_each
from ruggedraft.live.letting_go import let_go
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.queries import productions
from ruggedraft.project.clients import client_address

from ..screens import screen_of
from ..shapes import REFUSED, Done, Problem
from ..who import who

router = Router(tags=["session"])


_WRONG = "That name and password do not belong together. After ten tries, wait a quarter of an hour."


class MyProduction(BaseModel):
    """A production that somebody works for. slug: its name in addresses. closed: nothing new is offloaded for it.

    role: what they are there, in words. may: the acts that this role allows, by name
    """

    slug: str
    name: str
    closed: bool
    role: str
    may: list[str]


class Me(BaseModel):
    """standins: simulated readers are there to play with.

    screen: nobody is signed in, and the screen is shared: each act asks who does it

    productions: those that this person works for: the open ones, the newest first; then those that are closed
    """

    username: str
    name: str
    standins: bool
    screen: bool
    productions: list[MyProduction]


class OwnPassword(BaseModel):
    old: str
    new: str


class PinIn(BaseModel):
    """password: one's own, again. pin: 4 to 8 digits"""

    password: str
    pin: str


class SessionOut(BaseModel):
    """name: to end it by. browser: as it calls itself. here: the one that asks"""

    name: str
    since: datetime | None
    address: str
    browser: str
    here: bool


class LinkOut(BaseModel):
    """name: whose password it changes; null for a link that somebody joins `production` by. role: a label"""

    role: str
    production: str
    name: str | None


class SecretIn(BaseModel):
    secret: str


class LinkIn(BaseModel):
    """name: of somebody new; left out where the link is somebody's own."""

    secret: str
    password: str
    name: str = ""


class SignIn(BaseModel):
    """code: what the phone shows, of those who asked for one-time codes."""

    username: str
    password: str
    code: str = ""


class CodesOut(BaseModel):
    """on: one is asked for at each signing in."""

    on: bool


class CodesBegun(BaseModel):
    """secret: for typing into the phone. picture: the same as a QR code, as SVG in a data: address"""

    secret: str
    picture: str


class PasswordIn(BaseModel):
    password: str


class CodeIn(BaseModel):
    code: str


@router.get("", response={200: Me | None}, auth=None)
def who_am_i(request: HttpRequest) -> Me | None:
    get_token(request)
    if request.user.is_authenticated:
        return me(request)
    screen = screen_of(request)
    return _shared(screen) if screen else None


def _shared(screen: SharedScreen) -> Me:
    """What a shared screen is told: every act is there, and asks who does it."""
    here = next(one for one in productions() if one.pk == screen.production_id)
    mine = MyProduction(
        slug=here.slug, name=here.name, closed=here.closed_at is not None, role="shared screen",
        may=[act.name.lower() for act in May if act is not May.SET_UP],
    )  # fmt: skip
    return Me(username="", name=screen.name, standins=False, screen=True, productions=[mine])


BACKEND = "django.contrib.auth.backends.ModelBackend"


def require_token(request: HttpRequest) -> None:
    """Of requests by strangers too: no other site makes them. Raises NotPermitted."""
    if check_csrf(request):
        raise NotPermitted("This needs the page's own token: load the page again.")


_HASHING = threading.BoundedSemaphore(2)
"""Passwords are slow to check on purpose. Many who sign in at once wait here, holding nothing that others need."""
_MOST_NAME, _MOST_PASSWORD = 150, 4096


class CodeAsked(HttpError):
    """The password is right, and a one-time code is wanted too (428, RFC 6585 'Precondition Required')."""

    def __init__(self, sentence: str) -> None:
        super().__init__(428, sentence)


def _require_code(person: Person, code: str) -> None:
    if not code.strip():
        raise CodeAsked("Type the code that your phone shows for Rugged Raft.")
    if not code_is_right(person, code):
        raise CodeAsked("That is not a code of this moment, or it was used. Wait for the next one, and type that.")


@router.post("", response={200: Me, 403: Problem, 409: Problem, 428: Problem}, auth=None)
def sign_in(request: HttpRequest, given: SignIn) -> Me:
    """428: the password is right, and a one-time code is wanted too."""
    require_token(request)
    if len(given.username) > _MOST_NAME or len(given.password) > _MOST_PASSWORD:
        raise ActRefused(_WRONG)
    with _HASHING:
        person = authenticate(request, username=given.username, password=given.password)
        let_go()
    if person is None:
        raise ActRefused(_WRONG)
    if has_codes(person):
        _require_code(person, given.code)
    with transaction.atomic():
        login(request, person)
        note_session(request, address_of(request))
        _write(person, "sign in", f"{person.shown_name} signed in.", request)
    return me(request)


@router.delete("", response=Done)
def sign_out(request: HttpRequest) -> Done:
    with transaction.atomic():
        person = who(request)
        _write(person, "sign out", f"{person.shown_name} signed out.", request)
        logout(request)
        changed(Topic.SESSION)
    return Done()


def _write(person: Person, act: str, sentence: str, request: HttpRequest) -> None:
    write_in_each(standings_of(person), act, person.username, sentence, person=person, origin=address_of(request))


@router.post("/password", response={200: Done, **REFUSED})
def own_password(request: HttpRequest, given: OwnPassword) -> Done:
    """Change one's own password; other sessions of the same person end."""
    with _HASHING:
        person = change_own_password(who(request), given.old, given.new)
    update_session_auth_hash(request, person)
    return Done()


@router.put("/pin", response={200: Done, **REFUSED})
def own_pin(request: HttpRequest, given: PinIn) -> Done:
    """Choose what to say who one is with at a shared screen."""
    with _HASHING:
        set_pin(who(request), given.password, given.pin)
    return Done()


@router.get("/codes", response=CodesOut)
def my_codes(request: HttpRequest) -> CodesOut:
    return CodesOut(on=has_codes(who(request)))


@router.post("/codes", response={200: CodesBegun, **REFUSED})
def begin_my_codes(request: HttpRequest, given: PasswordIn) -> CodesBegun:
    """Put them into the phone; nothing is asked for until one was confirmed."""
    with _HASHING:
        begun = begin_codes(who(request), given.password)
    picture = segno.make(begun.address, error="m").svg_data_uri(scale=4, light="white", dark="black")
    return CodesBegun(secret=begun.secret, picture=picture)


@router.put("/codes", response={200: Done, **REFUSED})
def confirm_my_codes(request: HttpRequest, given: CodeIn) -> Done:
    confirm_codes(who(request), given.code)
    return Done()


@router.post("/codes/end", response={200: Done, **REFUSED})
def end_my_codes(request: HttpRequest, given: PasswordIn) -> Done:
    with _HASHING:
        end_codes(who(request), given.password)
    return Done()


@router.get("/all", response=list[SessionOut])
def where_i_am_signed_in(request: HttpRequest) -> list[SessionOut]:
    """Every session of the person who asks, the newest first."""
    here = name_of(request.session.session_key or "")
    return [
        SessionOut(name=one.name, since=one.since, address=one.address, browser=one.browser, here=one.name == here)
        for one in sessions_of(who(request))
    ]


@router.delete("/all/{name}", response={200: Done, **REFUSED})
def end_one(request: HttpRequest, name: str) -> Done:
    """Sign out elsewhere."""
    with transaction.atomic():
        person = who(request)
        if not end_session(person, name):
            raise NotThere("There is no such session any more.")
        _write(person, "sign out", f"{person.shown_name} ended a session of theirs.", request)
        changed(Topic.SESSION)
    return Done()


@router.post("/link/look", response={200: LinkOut, **REFUSED}, auth=None)
def look_at_link(request: HttpRequest, given: SecretIn) -> LinkOut:
    """What a link is for, before it is used. What it carries is in no address, so that no log keeps it."""
    require_token(request)
    link = link_with(given.secret)
    if link.person:
        return LinkOut(role="", production="", name=link.person.shown_name)
    production = link.production.name if link.production else ""
    return LinkOut(role=Role(link.role).label, production=production, name=None)


@router.post("/link", response={200: Me, **REFUSED}, auth=None)
def join_by_link(request: HttpRequest, given: LinkIn) -> Me:
    """Join, or choose a new password, by a link; and sign in."""
    require_token(request)
    with _HASHING:
        person = use_link(given.secret, name=given.name, password=given.password, origin=address_of(request))
    login(request, person, backend=BACKEND)
    note_session(request, address_of(request))
    return me(request)


@router.post("/link/mine", response={200: Me, **REFUSED})
def join_as_myself(request: HttpRequest, given: SecretIn) -> Me:
    """Join one more production by a link, as the person who is signed in."""
    join_as_oneself(who(request), given.secret, origin=address_of(request))
    return me(request)


def me(request: HttpRequest) -> Me:
    """What a page is told of the person who is signed in."""
    person = who(request)
    mine = standings_of(person)
    return Me(
        username=person.username,
        name=person.shown_name,
        standins=settings.STANDINS,
        screen=False,
        productions=[
            MyProduction(
                slug=one.slug, name=one.name, closed=one.closed_at is not None, role=mine[one.pk].role.label,
                may=[act.name.lower() for act in May if act in mine[one.pk].may],
            )
            for one in productions()
            if one.pk in mine
        ],
    )  # fmt: skip


def address_of(request: HttpRequest) -> str:
    return client_address(request)[:80]
