"""Keeps a few programs running together: restarts those that die, and ends them all at once."""

import ctypes
import signal
import subprocess
import threading
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

from .steps import say

_PR_SET_PDEATHSIG = 1  # prctl(2)
_LOOK_EVERY = 2.0  # seconds
_STOP_SIGNALS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)
_GRACE = 8.0  # seconds a program gets to end by itself
_LONG_LIFE = 60.0  # seconds; one that lived as long starts again at once
_MOST_PATIENCE = 60.0  # seconds


@dataclass
class Service:
    name: str
    command: Sequence[str]
    env: dict[str, str]
    process: subprocess.Popen[bytes] | None = None
    again_at: float | None = None
    starts: list[float] = field(default_factory=list)

    def start(self) -> None:
        self.starts.append(time.monotonic())
        self.process = subprocess.Popen(
            self.command,
            env=self.env,
            stdin=subprocess.DEVNULL,
            start_new_session=True,
            preexec_fn=_die_with_parent,
        )

    def died(self) -> bool:
        return self.process is not None and self.process.poll() is not None

    def patience_s(self) -> float:
        """How long to wait before the next start: longer each time it died soon, never for good."""
        soon = 0
        for later, earlier in pairwise(reversed([*self.starts, time.monotonic()])):
            if later - earlier > _LONG_LIFE:
                break
            soon += 1
        return 0.0 if soon <= 1 else min(_MOST_PATIENCE, 0.5 * 2 ** (soon - 2))


def _die_with_parent() -> None:
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


def run_until_interrupted(
    services: Sequence[Service],
    *,
    is_up: Callable[[], bool],
    when_up: Callable[[], None],
    look_after: Callable[[], None] = lambda: None,
) -> int:
    """Start every service and stay until Ctrl-C or SIGTERM. Returns the exit code: 0.

    What dies is started again, at once or after a while that grows, and is never given up: whoever comes back to the
    cart finds it trying. when_up: called once, as soon as `is_up` says so. look_after: called every few seconds
    """
    stop = threading.Event()
    before = {number: signal.signal(number, lambda *_: stop.set()) for number in _STOP_SIGNALS}
    for service in services:
        service.start()
    announced, looked = False, time.monotonic()
    while not stop.wait(0.25):
        if not announced and is_up():
            announced = True
            when_up()
        if time.monotonic() - looked > _LOOK_EVERY:
            looked = time.monotonic()
            look_after()
        for service in services:
            _keep_up(service)
    end_all(services)
    for number, handler in before.items():
        signal.signal(number, handler)
    return 0


def _keep_up(service: Service) -> None:
    """Start a service again that stopped, when its time has come."""
    if not service.died():
        return
    if service.again_at is None:
        wait = service.patience_s()
        service.again_at = time.monotonic() + wait
        when = f"in {wait:.0f} s" if wait >= 1 else "now"
        say(f"the {service.name} stopped by itself; starting it again {when}")
    if time.monotonic() >= service.again_at:
        service.again_at = None
        service.start()


def end_all(services: Sequence[Service]) -> None:
    for service in services:
        if service.process and service.process.poll() is None:
            service.process.terminate()
    deadline = time.monotonic() + _GRACE
    for service in services:
        if service.process:
            try:
                service.process.wait(max(0.1, deadline - time.monotonic()))
            except subprocess.TimeoutExpired:
                service.process.kill()
                service.process.wait()
