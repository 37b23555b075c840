"""Many who ask the same at once are answered by one working out.

When something happens, every open screen asks anew, and the answer is the same for all of them.
"""

import contextlib
import functools
import threading
import time
from collections.abc import Callable, Hashable
from typing import Any, ParamSpec, TypeVar

from django.http import HttpRequest, HttpResponse

from .letting_go import let_go

Answer = TypeVar("Answer")
Asked = ParamSpec("Asked")


_KEPT_S = 5.0
"""How long an answer is kept for those who asked before it was begun, and have not come to it yet."""


class _Round:
    """One working out, and all who wait for it. begun: by the monotonic clock"""

    def __init__(self) -> None:
        self.begun = 0.0
        self.over = threading.Event()
        self.answer: Any = None
        self.error: BaseException | None = None

    def outcome(self) -> Any:
        if self.error is not None:
            raise self.error
        return self.answer


class Together:
    """Whoever asks while an answer is being worked out gets the next one, which is begun after they asked.

    So nobody is told what was true before they asked. All of one key are asking the same.

    Whoever asked several things at once, and waited for some of them, is answered with what was begun meanwhile.
    """

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._running: dict[Hashable, _Round] = {}
        self._next: dict[Hashable, _Round] = {}
        self._kept: dict[Hashable, _Round] = {}

    def ask(self, key: Hashable, work: Callable[[], Answer], asked: float | None = None) -> Answer:
        """What `work` comes to, here or where somebody else does it. Raises what it raises.

        asked: when this was asked, by the monotonic clock; None: now
        """
        known = None if asked is None else self._begun_since(key, asked)
        if known is None:
            found: Answer = self._round(key, work).outcome()
        else:
            _wait_for(known)
            found = known.outcome()
        return found

    def _begun_since(self, key: Hashable, asked: float) -> _Round | None:
        with self._lock:
            for one in (self._kept.get(key), self._running.get(key)):
                if one is not None and one.begun > asked:
                    return one
        return None

    def _round(self, key: Hashable, work: Callable[[], Any]) -> _Round:
        with self._lock:
            before = self._running.get(key)
            rounds = self._running if before is None else self._next
            leads = key not in rounds
            mine = rounds.setdefault(key, _Round())
        if not leads:
            _wait_for(mine)
        elif before is None:
            self._work_out(key, mine, work)
        else:
            _wait_for(before)
            with self._lock:
                self._running[key] = self._next.pop(key)
            self._work_out(key, mine, work)
        return mine

    def _work_out(self, key: Hashable, mine: _Round, work: Callable[[], Any]) -> None:
        mine.begun = time.monotonic()
        try:
            mine.answer = work()
        except BaseException as error:  # whatever it is, those who wait get it too
            mine.error = error
        with self._lock:
            if key not in self._next:
                del self._running[key]
            self._kept = {one: kept for one, kept in self._kept.items() if kept.begun > mine.begun - _KEPT_S}
            if mine.error is None:
                self._kept[key] = mine
        mine.over.set()


def _wait_for(one: _Round) -> None:
    with contextlib.suppress(Exception):  # whatever it is: others wait for whoever leads
        let_go()  # who waits keeps no connection from those who work
    one.over.wait()


_asking = Together()


def asked_at(request: HttpRequest, moment: float) -> None:
    """Say when something was asked, by the monotonic clock, where it has to wait for others."""
    request.__dict__["asked_at"] = moment


def asked_together(view: Callable[Asked, Answer]) -> Callable[Asked, Answer]:
    """For questions whose answer is the same for everybody who may ask them: it must not look at who asks."""

    @functools.wraps(view)
    def ask(*args: Asked.args, **kwargs: Asked.kwargs) -> Answer:
        request = args[0]
        if not isinstance(request, HttpRequest):
            raise TypeError("only what is asked of the server is asked together")
        asked = request.__dict__.get("asked_at")
        return _ones_own(_asking.ask(request.get_full_path(), lambda: view(*args, **kwargs), asked))

    return ask


def _ones_own(answer: Answer) -> Answer:
    """What is sent is changed on its way."""
    if isinstance(answer, HttpResponse):
        return HttpResponse(answer.content, content_type=answer["Content-Type"], status=answer.status_code)  # type: ignore[return-value]
    return answer
