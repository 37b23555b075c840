"""Asking what may never answer: a drive that hangs holds up whoever asks it, so it is asked apart, with a limit."""

import threading
import time
from collections.abc import Callable, Hashable
from typing import Any, TypeVar

T = TypeVar("T")


class NotAnswering(Exception):
    """What was asked has not answered yet, and may never."""


class _Question:
    """One call in a thread of its own, which ends with the process if it never ends by itself."""

    def __init__(self, call: Callable[[], Any]) -> None:
        self.answered = threading.Event()
        self.since = time.monotonic()
        self._call = call
        self._result: Any = None
        self._error: BaseException | None = None
        threading.Thread(target=self._run, daemon=True).start()

    def _run(self) -> None:
        try:
            self._result = self._call()
        except BaseException as error:
            self._error = error
        finally:
            self.answered.set()

    def result(self) -> Any:
        if self._error:
            raise self._error
        return self._result


class Apart:
    """Questions by what they are about. At most one of each is open: what hangs is not asked again, but waited for."""

    def __init__(self) -> None:
        self._open: dict[Hashable, _Question] = {}
        self._lock = threading.Lock()

    def ask(self, about: Hashable, call: Callable[[], T], patience_s: float) -> T:
        """What the call returns, or raises. Whoever asks while the same question is open gets the answer to that one:
        it may speak of an earlier moment than theirs, so a call whose moment matters returns it.

        patience_s: seconds since the question was asked. Raises NotAnswering when they are over.
        """
        with self._lock:
            question = self._open.get(about) or self._open.setdefault(about, _Question(call))
        left = patience_s - (time.monotonic() - question.since)
        if not question.answered.wait(max(0.0, left)):
            raise NotAnswering
        with self._lock:
            if self._open.get(about) is question:
                del self._open[about]
        result: T = question.result()
        return result
