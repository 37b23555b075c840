"""Many who ask the same at once are answered by one working out.

When something happens, every open screen asks anew, and the answer is the same for all of them.
"""

import contextlib
import functools
import threading
from collections.abc import Callable, Hashable
from typing import Any, ParamSpec, TypeVar

from django.http import HttpRequest, HttpResponse

from .letting_go import let_go

Answer = TypeVar("Answer")
Asked = ParamSpec("Asked")


class _Round:
    """One working out, and all who wait for it."""

    def __init__(self) -> None:
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
    """

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._running: dict[Hashable, _Round] = {}
        self._next: dict[Hashable, _Round] = {}

    def ask(self, key: Hashable, work: Callable[[], Answer]) -> Answer:
        """What `work` comes to, here or where somebody else does it. Raises what it raises."""
        with self._lock:
            before = self._running.get(key)
            rounds = self._running if before is None else self._next
            leads = key not in rounds
            mine = rounds.setdefault(key, _Round())
        if before is not None:
            with contextlib.suppress(Exception):  # whatever it is: others wait for whoever leads
                let_go()  # who waits keeps no connection from those who work
        if not leads:
            mine.over.wait()
        elif before is None:
            self._work_out(key, mine, work)
        else:
            before.over.wait()
            with self._lock:
                self._running[key] = self._next.pop(key)
            self._work_out(key, mine, work)
        found: Answer = mine.outcome()
        return found

    def _work_out(self, key: Hashable, mine: _Round, work: Callable[[], Answer]) -> None:
        try:
            mine.answer = work()
        except BaseException as error:  # whatever it is, those who wait get it too
            mine.error = error
        with self._lock:
            if key not in self._next:
                del self._running[key]
        mine.over.set()


_asking = Together()


def asked_together(view: Callable[Asked, Answer]) -> Callable[Asked, Answer]:
    """For questions whose answer is the same for everybody who may ask them: it must not look at who asks."""

    @functools.wraps(view)
    def ask(*args: Asked.args, **kwargs: Asked.kwargs) -> Answer:
        request = args[0]
        if not isinstance(request, HttpRequest):
            raise TypeError("only what is asked of the server is asked together")
        return _ones_own(_asking.ask(request.get_full_path(), lambda: view(*args, **kwargs)))

    return ask


def _ones_own(answer: Answer) -> Answer:
    """What is sent is changed on its way."""
    if isinstance(answer, HttpResponse):
        return HttpResponse(answer.content, content_type=answer["Content-Type"], status=answer.status_code)  # type: ignore[return-value]
    return answer
