"""How soon everybody sees what was written: thirty browsers on one server, while cards are being read."""

import http.client
import json
import os
import statistics
import tempfile
import threading
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import psycopg
import urllib3
from django.test import override_settings

from .measuring import say, table
from .screens import chromium, served, sign_in

_BROWSERS, _ROUNDS = 30, 9
_READER_RATE = 500_000
"""Bytes a second of the simulated readers, so that the cards are being read all the time."""
_CARDS = ("A-01", "A-03", "B-01", "B-02")
_CARD_BYTES = 60_000_000
_HOST = "localhost"
_SEEN = """
const [words, done] = arguments
const look = () => {
  if (document.querySelector(`[data-slot="${words}"]`)) requestAnimationFrame(() => done(Date.now() / 1000))
  else setTimeout(look, 4)
}
look()
"""
_ASKED = """
return performance.getEntriesByType('resource')
  .filter((one) => one.initiatorType === 'fetch' && one.startTime > arguments[0])
  .map((one) => new URL(one.name).pathname + new URL(one.name).search)
"""


@dataclass
class _Heard:
    """When which message came, by the clock that all of them share."""

    progress: dict[str, float] = field(default_factory=dict)
    named: dict[str, float] = field(default_factory=dict)


def live() -> str:
    """The table. On a database and folders of its own; needs the packages of the tests."""
    with (
        tempfile.TemporaryDirectory(prefix="raft-bench-") as var,
        served(Path(var), RAFT_STANDIN_READER_RATE=str(_READER_RATE)) as address,
        override_settings(VAR=Path(var)),
        chromium() as page,
    ):
        sign_in(page, address)
        slug = page.current_url.split("/")[3]
        crew = _Crew(address, slug)
        runs = crew.begin_runs()
        asked = _what_a_page_asks(page, crew)
        say(f"a page asks in {len(asked)} requests: {asked}")
        browsers = [_Browser(crew, asked) for _ in range(_BROWSERS - 1)]
        try:
            with _said() as said:
                time.sleep(3)
                drawn = [_round(page, crew, browsers, n) for n in range(_ROUNDS)]
        finally:
            for one in browsers:
                one.leave()
    progress = [
        heard - said.progress[payload]
        for one in browsers
        for payload, heard in one.heard.progress.items()
        if payload in said.progress
    ]
    answers = [heard - at for at, seen, _ in drawn for heard in seen]
    rows = [
        _row(f"progress of {runs} runs, on each of {_BROWSERS - 1} streams", progress, "at most 500 ms"),
        _row(f"a reader's new name, in the answers of {_BROWSERS - 1} browsers", answers),
        _row("the same, drawn in Chromium beside them", [seen - at for at, _, seen in drawn]),
    ]
    head = ("what", "median", "95 of 100", "longest", "asked")
    return f"### What is written, until {_BROWSERS} browsers have it, while {runs} cards are read\n\n" + table(
        head, rows
    )


def _row(what: str, seconds: Sequence[float], asked: str = "") -> tuple[str, str, str, str, str]:
    ordered = sorted(seconds)
    return what, _ms(statistics.median(ordered)), _ms(ordered[int(0.95 * len(ordered))]), _ms(ordered[-1]), asked


def _ms(seconds: float) -> str:
    return f"{seconds * 1000:,.0f} ms"


class _Crew:
    """Somebody signed in, as many times as there are browsers."""

    def __init__(self, address: str, slug: str) -> None:
        from ruggedraft.crew.models import Person
        from ruggedraft.intake.models import Reader
        from ruggedraft.standins import hub

        self.at, self.slug = urlsplit(address), slug
        self.person = Person.objects.get(username="sol")
        self.reader = Reader.objects.get(port=hub.SLOTS[0], gone_at=None)

    def session(self) -> str:
        from django.test import Client

        client = Client(headers={"host": _HOST})
        client.force_login(self.person, backend="django.contrib.auth.backends.ModelBackend")
        return client.cookies["sessionid"].value

    def name(self, words: str) -> float:
        """Give a reader another name. Returns when that was committed."""
        from ruggedraft.intake.acts.name_reader import name_reader

        name_reader(self.person, self.reader, words)
        return time.time()

    def begin_runs(self) -> int:
        """Put cards with something new into the readers, and have them offloaded. Returns how many are under way."""
        from ruggedraft.standins import hub

        say("cards into readers")
        for slot in hub.SLOTS:
            hub.remove(slot)
        time.sleep(5)
        cards = [one for one in hub.cards() if one.label in _CARDS]
        for card, slot in zip(cards, hub.SLOTS, strict=False):
            (card.folder / "BENCH.MOV").write_bytes(os.urandom(_CARD_BYTES))
            hub.insert(card.serial, slot)
        return sum(self._begin(card.label) for card in cards)

    def _begin(self, label: str) -> bool:
        """Once it was read. False where it cannot be offloaded."""
        from ruggedraft.core.errors import RaftError
        from ruggedraft.intake.models import Card
        from ruggedraft.offloads.acts.start_offload import start_offload
        from ruggedraft.offloads.proposal import propose

        until = time.monotonic() + 60
        while True:
            card = Card.objects.select_related("camera__production__rule", "camera__plan").get(label=label)
            try:
                start_offload(self.person, card, propose(card).tag, uneven=True)
                return True
            except RaftError as refused:
                if time.monotonic() > until:
                    say(refused.sentence)
                    return False
                time.sleep(1)


def _what_a_page_asks(page: Any, crew: _Crew) -> list[str]:
    """What an open Bench asks for again once a reader was renamed."""
    time.sleep(2)
    page.execute_script("performance.clearResourceTimings(); performance.setResourceTimingBufferSize(2000)")
    began = page.execute_script("return performance.now()")
    crew.name("before")
    time.sleep(3)
    return list(dict.fromkeys(page.execute_script(_ASKED, began)))


class _Browser:
    """Hears the stream as a page does, and asks again what the page would."""

    def __init__(self, crew: _Crew, asked: Sequence[str]) -> None:
        self._crew, self._asked, self._cookie = crew, asked, {"Cookie": f"sessionid={crew.session()}", "Host": _HOST}
        self.heard, self._gone = _Heard(), False
        self._stale = threading.Event()
        for work in (self._listen, self._ask):
            threading.Thread(target=work, daemon=True).start()

    def leave(self) -> None:
        self._gone = True

    def _listen(self) -> None:
        line = http.client.HTTPConnection(self._crew.at.hostname or "", self._crew.at.port, timeout=60)
        line.request("GET", f"/api/live?of={self._crew.slug}", headers=self._cookie)
        answer = line.getresponse()
        while not self._gone:
            said = answer.readline().strip()
            if not said.startswith(b"data: "):
                continue
            payload = said.removeprefix(b"data: ").decode()
            if '"progress"' in payload:
                self.heard.progress.setdefault(payload, time.time())
            elif json.loads(payload).get("topic") == "readers":
                self._stale.set()

    def _ask(self) -> None:
        line = urllib3.HTTPConnectionPool(self._crew.at.hostname or "", self._crew.at.port, maxsize=1)
        while not self._gone:
            self._stale.wait(1)
            if not self._stale.is_set():
                continue
            time.sleep(0.06)  # what changes together is asked for once
            self._stale.clear()
            for path in self._asked:
                for part in line.request("GET", path, headers=self._cookie, preload_content=False):
                    for words in _names_in(part):  # a line is an answer, and is shown when it is there
                        self.heard.named.setdefault(words, time.time())


def _names_in(answers: bytes) -> set[str]:
    return {f"name {n}" for n in range(_ROUNDS) if f'"name {n}"'.encode() in answers}


def _round(page: Any, crew: _Crew, browsers: Sequence[_Browser], n: int) -> tuple[float, list[float], float]:
    """When a name was written, when each browser had it in its answers, and when one had drawn it."""
    say(f"round {n + 1} of {_ROUNDS}")
    words = f"name {n}"
    at = crew.name(words)
    drawn = float(page.execute_async_script(_SEEN, words))
    until = time.monotonic() + 30
    while time.monotonic() < until and not all(words in one.heard.named for one in browsers):
        time.sleep(0.02)
    time.sleep(1)
    return at, [one.heard.named[words] for one in browsers], drawn


@contextmanager
def _said() -> Iterator[_Heard]:
    """What the ledger passes on, when it does: as soon as a worker's words are committed."""
    from ruggedraft.live.notify import CHANNEL, connection_words

    heard, over = _Heard(), threading.Event()

    def listen() -> None:
        with psycopg.connect(**connection_words()) as ledger:
            ledger.execute(f"LISTEN {CHANNEL}")
            while not over.is_set():
                for one in ledger.notifies(timeout=0.5):
                    heard.progress.setdefault(one.payload, time.time())

    thread = threading.Thread(target=listen, daemon=True)
    thread.start()
    try:
        yield heard
    finally:
        over.set()
        thread.join()
