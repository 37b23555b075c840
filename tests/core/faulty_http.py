"""Around a server over HTTP: a request of a run is refused, torn, or answered wrongly; every such fault in turn."""

import random
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from threading import Lock
from typing import ClassVar

from .test_faults import FILES, LONG, FaultCase


@dataclass(frozen=True)
class Fault:
    """At the nth request (from 0) of this method; ever_after: each later one of any kind too."""

    method: str
    nth: int
    how: str
    ever_after: bool = False


class FaultyHttp:
    """A kind of server says in `hows` what may go wrong with each method, and in `answers` which of that may last."""

    hows: ClassVar[dict[str, tuple[str, ...]]] = {}
    answers: ClassVar[Sequence[str]] = ()
    fault: Fault | None = None
    calls: Counter = Counter()
    struck = 0
    lock = Lock()

    def __init__(self, application):
        self.application = application

    @classmethod
    def from_now_on(cls, fault: Fault | None) -> None:
        cls.fault, cls.calls, cls.struck = fault, Counter(), 0

    @classmethod
    def strikes(cls, method: str) -> str | None:
        with cls.lock:
            nth, fault = cls.calls[method], cls.fault
            cls.calls[method] += 1
            here = fault is not None and (method, nth) == (fault.method, fault.nth)
            if fault is None or not (here or (fault.ever_after and cls.struck)):
                return None
            cls.struck += 1
            return fault.how if here or fault.how in cls.hows.get(method, ()) else None

    @classmethod
    def every_fault(cls) -> list[Fault]:
        """Of the requests that were made since `from_now_on`."""
        return [
            Fault(method, nth, how, ever_after)
            for method, count in sorted(cls.calls.items())
            for nth in range(count)
            for how in cls.hows.get(method, ())
            for ever_after in ((False, True) if how in cls.answers else (False,))
        ]

    def told(self, environ, start_response, how: str | None):
        """What the server answers, broken off after it was done, cut or with a bit turned."""
        said = {}

        def remember(status, headers, *rest):
            said["status"], said["headers"] = status, headers

        body = b"".join(self.application(environ, remember))
        if how == "done and broken off":
            start_response("500 Internal Server Error", [("Content-Type", "text/plain"), ("Content-Length", "0")])
            return [b""]
        if how in ("truncated", "flipped") and body:
            body = turned(body) if how == "flipped" else body[: len(body) // 2]
        start_response(said["status"], said["headers"])
        return [body]


def turned(content: bytes) -> bytes:
    """With one bit turned, where there is any."""
    return content[:-1] + bytes([content[-1] ^ 0x20]) if content else content


class FaultsInTurn(FaultCase):
    """Each request of a run goes wrong in every way; then what is claimed is compared with what the server holds."""

    for_good = ("other bytes kept", "fewer bytes kept", "flipped", "truncated")
    """Ways after which another run need not make everything whole."""

    def try_each(self, faulty: type[FaultyHttp], fresh: Callable[[], object], short: int) -> None:
        """After a good run. fresh: an empty store. short: so many faults, any of them, where time is short"""
        cases = faulty.every_fault()
        chosen = cases if LONG else random.Random().sample(cases, short)
        wrong, struck = [], 0
        for self.fault in chosen:
            faulty.from_now_on(None)
            fresh()
            faulty.from_now_on(self.fault)
            report = self.run_to(self.base)
            struck += bool(faulty.struck)
            faulty.from_now_on(None)
            wrong += [f"{self.fault}: {one}" for one in self.found_wrong(report)]
        self.tell(len(chosen), len(cases), struck, wrong)

    def found_wrong(self, report) -> list[str]:
        """Judged by what the server holds now, which is asked without any fault; and another run goes on from there."""
        found = self.wrong_claims(report, self.base)
        again = self.run_to(self.base)
        found += self.wrong_claims(again, self.base)
        if again.stores[0].agreed != FILES.keys() and self.fault.how not in self.for_good:
            found.append(f"it does not recover: {again.stores[0].failed[:2]}")
        return found
