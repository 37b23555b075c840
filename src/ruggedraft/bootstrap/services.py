"""Keeps a few programs running together: restarts those that die, and ends them all at once."""

import ctypes
import signal
import subprocess
import threading
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from .steps import say

_PR_SET_PDEATHSIG = 1  # prctl(2)
_STOP_SIGNALS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)
_GRACE = 8.0  # seconds a program gets to end by itself


@dataclass
class Service:
    name: str
    command: Sequence[str]
    env: dict[str, str]
    process: subprocess.Popen[bytes] | None = None
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

    def keeps_dying(self) -> bool:
        return len([at for at in self.starts if time.monotonic() - at < 60]) > 5


def _die_with_parent() -> None:
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


def run_until_interrupted(
    services: Sequence[Service], *, is_up: Callable[[], bool], when_up: Callable[[], None]
) -> int:
    """Start every service and stay until Ctrl-C or SIGTERM. Returns the exit code: 0 if asked to stop.

    when_up: called once, as soon as `is_up` says so
    """
    stop = threading.Event()
    before = {number: signal.signal(number, lambda *_: stop.set()) for number in _STOP_SIGNALS}
    for service in services:
        service.start()
    code, announced = 0, False
    while not code and not stop.wait(0.25):
        if not announced and is_up():
            announced = True
            when_up()
        code = 0 if all(_keep_up(service) for service in services) else 1
    end_all(services)
    for number, handler in before.items():
        signal.signal(number, handler)
    return code


def _keep_up(service: Service) -> bool:
    """Start a service again that stopped; False if that happens over and over."""
    if service.process is None or service.process.poll() is None:
        return True
    if service.keeps_dying():
        say(f"the {service.name} keeps stopping; giving up. What it said stands above.")
        return False
    say(f"the {service.name} stopped by itself; starting it again")
    service.start()
    return True


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
