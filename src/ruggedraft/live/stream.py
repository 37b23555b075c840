"""Server-sent events: one LISTEN connection per server process, passed on to every open screen."""

import asyncio
import contextlib
import json
import time
from collections.abc import AsyncIterator, Awaitable, Callable, Iterator, Mapping
from importlib import import_module
from typing import NamedTuple
from uuid import uuid4

import psycopg
from asgiref.sync import sync_to_async
from django.conf import settings
from django.contrib.auth import get_user_model
from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.utils.module_loading import import_string

from .letting_go import let_go
from .listening import PatientConnection
from .messages import Changed, Resync, Topic
from .notify import CHANNEL, connection_words
from .presence import note_gone, note_here

_KEEP_ALIVE = 15.0  # seconds; proxies drop silent connections after half a minute or more
_ASK_AGAIN = 29.0
"""Seconds after which a stream asks whether its person is still let in, and says to the crew that they are there.
Whoever signs out anywhere has all streams ask at once; this is for a session that ends by itself."""
_BACKLOG = 200
RESYNC = Resync().model_dump_json()


class Heard(NamedTuple):
    """What was said, as JSON. production: id of the one that alone hears of it; None: everybody does"""

    payload: str
    production: int | None = None


ANEW = Heard(RESYNC)
_SESSIONS = Heard(Changed(topic=Topic.SESSION).model_dump_json())
"""Somebody signed out somewhere: every stream asks whether it was its own person."""


def _heard(payload: str) -> Heard:
    return Heard(payload, json.loads(payload).get("production"))


class _Fanout:
    """Runs while somebody listens."""

    def __init__(self) -> None:
        self._screens: set[asyncio.Queue[Heard]] = set()
        self._task: asyncio.Task[None] | None = None

    @contextlib.contextmanager
    def screen(self) -> Iterator[asyncio.Queue[Heard]]:
        queue: asyncio.Queue[Heard] = asyncio.Queue(_BACKLOG)
        self._screens.add(queue)
        if self._task is None or self._task.done():
            self._task = asyncio.get_running_loop().create_task(self._listen())
        try:
            yield queue
        finally:
            self._screens.discard(queue)

    async def _listen(self) -> None:
        while self._screens:
            try:
                await self._listen_once()
            except (psycopg.Error, OSError):
                await asyncio.sleep(1.0)

    async def _listen_once(self) -> None:
        async with await PatientConnection.connect(**connection_words()) as ledger:
            await ledger.execute(f"LISTEN {CHANNEL}")
            self._tell_all(ANEW)
            while self._screens:
                async for notification in ledger.notifies(timeout=_KEEP_ALIVE):
                    self._tell_all(_heard(notification.payload))

    def _tell_all(self, heard: Heard) -> None:
        for queue in self._screens:
            if queue.full():  # a screen that fell behind starts over
                while not queue.empty():
                    queue.get_nowait()
                queue.put_nowait(ANEW)
            else:
                queue.put_nowait(heard)


_fanout = _Fanout()


async def events(request: HttpRequest) -> HttpResponseBase:
    """`GET /api/live`: an endless text/event-stream, for people who are signed in.

    `of`: the production that the page shows, by its name in addresses; its crew sees that somebody is there
    """
    user = await request.auser()
    let_in = _session(request) if user.is_authenticated else _screen(request)
    known = await let_in()
    await sync_to_async(let_go)()  # this request never ends: it must not keep a connection meanwhile
    if known is None:
        return HttpResponse(status=401)
    response = StreamingHttpResponse(_stream(let_in, request.GET.get("of", "")), content_type="text/event-stream")
    response["Cache-Control"] = "no-cache"
    response["X-Accel-Buffering"] = "no"
    return response


class Listener(NamedTuple):
    """Somebody who hears what happens. productions: ids of theirs, by their names in addresses

    person: id of whoever is signed in; None: it is a shared screen, of this name
    """

    productions: Mapping[str, int]
    person: int | None
    screen: str = ""


LetIn = Callable[[], Awaitable[Listener | None]]
"""Who it is now; None for whoever is let in no more."""


async def _stream(let_in: LetIn, of: str = "") -> AsyncIterator[bytes]:
    """Until the session ends: nobody who has signed out goes on hearing what happens. of: see `events`"""
    with _fanout.screen() as queue, _presence(of) as say_here:
        yield f"data: {RESYNC}\n\n".encode()
        mine, asked = await let_in(), time.monotonic()
        await say_here(mine)
        while mine is not None:
            try:
                heard = await asyncio.wait_for(queue.get(), _KEEP_ALIVE)
            except TimeoutError:
                heard = Heard("")
            if heard == _SESSIONS or time.monotonic() - asked > _ASK_AGAIN:
                mine, asked = await let_in(), time.monotonic()
                await say_here(mine)
            if mine is None:
                return
            if heard != _SESSIONS and heard.production in (None, *mine.productions.values()):
                yield f"data: {heard.payload}\n\n".encode() if heard.payload else b": still here\n\n"


_goodbyes = set[asyncio.Task[None]]()


@contextlib.contextmanager
def _presence(of: str) -> Iterator[Callable[[Listener | None], Awaitable[None]]]:
    """Says for as long as a stream lasts that its page is there, to the crew of the production that it shows."""
    stream, said = uuid4(), False

    def here(production: int, listener: Listener) -> None:
        try:
            note_here(stream, production, listener.person, listener.screen)
        finally:
            let_go()

    def gone() -> None:
        try:
            note_gone(stream)
        except DatabaseError:  # it is away; nobody who is not seen for a minute is said to be here
            pass
        finally:
            let_go()

    async def say_here(listener: Listener | None) -> None:
        nonlocal said
        if listener and of in listener.productions:
            said = True
            await sync_to_async(here)(listener.productions[of], listener)

    try:
        yield say_here
    finally:
        if said:  # the request was given up, and awaits nothing any more: its goodbye is a task of its own
            task = asyncio.get_running_loop().create_task(sync_to_async(gone)())
            _goodbyes.add(task)
            task.add_done_callback(_goodbyes.discard)


def _session(request: HttpRequest) -> LetIn:
    key = request.session.session_key or ""
    return lambda: _hears_of(key)


def _screen(request: HttpRequest) -> LetIn:
    """Of a browser that shows a production with nobody signed in, as `settings.SHARED_SCREEN` knows it."""
    known = import_string(settings.SHARED_SCREEN)

    def ask() -> Listener | None:
        try:
            found = known(request)
            return Listener({found.production.slug: found.production_id}, None, found.name) if found else None
        finally:
            let_go()

    return sync_to_async(ask)


@sync_to_async
def _hears_of(session: str) -> Listener | None:
    """Asked anew: the session is there, has not run out, and is that of somebody who may still sign in."""
    try:
        store = import_module(settings.SESSION_ENGINE).SessionStore(session_key=session)
        person = get_user_model().objects.filter(pk=store.get("_auth_user_id"), is_active=True).first()
        if person is None:
            return None
        crew = person.memberships.filter(off_since=None)
        return Listener(dict(crew.values_list("production__slug", "production_id")), person.pk)
    finally:
        let_go()
