"""Processes of ours that begin with the libraries in memory: to read them again takes longer than most tests.

Each process that runs tests has one that only reads libraries, and is forked whenever another is wanted. What reads our
settings is left to those: each has its own environment.
"""

import contextlib
import importlib
import json
import os
import pkgutil
import runpy
import select
import signal
import socket
import subprocess
import sys
from collections.abc import Mapping, Sequence
from pathlib import Path

_LIBRARIES = (
    "asyncssh", "boto3", "croniter", "csp", "defusedxml", "django.contrib.postgres.fields", "django.core.handlers.asgi",
    "django.core.management", "django.core.serializers.json", "django.db.backends.postgresql.base",
    "django.db.migrations.executor", "django.forms", "django.http", "django.template.engine", "django.urls",
    "django.views.generic", "procrastinate", "procrastinate.cli", "procrastinate.psycopg_connector", "psycopg_pool",
    "pydantic", "segno", "uvicorn.lifespan.on", "uvicorn.main", "uvicorn.protocols.http.h11_impl", "weasyprint",
    "whitenoise",
)  # fmt: skip
_SETTINGS = "DJANGO_SETTINGS_MODULE"


class WarmProcess:
    """As much of `subprocess.Popen` as is needed. It is nobody's child here: how it ended is not known."""

    def __init__(self, pid: int) -> None:
        self.pid = pid
        self._handle = os.pidfd_open(pid)

    def poll(self) -> int | None:
        """None while it lives."""
        return 0 if select.select([self._handle], [], [], 0)[0] else None

    def send_signal(self, number: int) -> None:
        with contextlib.suppress(ProcessLookupError):
            signal.pidfd_send_signal(self._handle, number)

    def kill(self) -> None:
        self.send_signal(signal.SIGKILL)

    def wait(self) -> None:
        select.select([self._handle], [], [])


class _Forked:
    """The process that the others are forked from."""

    def __init__(self) -> None:
        ours, theirs = socket.socketpair()
        env = {key: value for key, value in os.environ.items() if key != _SETTINGS}
        with theirs:
            words = [sys.executable, "-m", __name__, str(theirs.fileno())]
            self._process = subprocess.Popen(words, env=env, pass_fds=[theirs.fileno()], stdin=subprocess.DEVNULL)
        self._line = ours.makefile("rwb")

    def begin(self, words: Sequence[str], env: Mapping[str, str], cwd: Path) -> WarmProcess:
        self._line.write(json.dumps([list(words), dict(env), str(cwd)]).encode() + b"\n")
        self._line.flush()
        return WarmProcess(int(self._line.readline()))


_forked: dict[int, _Forked] = {}


def begin(words: Sequence[str], env: Mapping[str, str], cwd: Path) -> WarmProcess:
    """Python with these words after its name: a script's path, or `-m` and a module's name, and what it is given."""
    mine = os.getpid()
    if mine not in _forked:  # the processes that run tests are forked themselves
        _forked[mine] = _Forked()
    return _forked[mine].begin(words, env, cwd)


def _read_libraries() -> None:
    import ruggedraft.core

    for name in _LIBRARIES:
        importlib.import_module(name)
    for module in pkgutil.walk_packages(ruggedraft.core.__path__, "ruggedraft.core."):
        if not module.name.endswith(".__main__"):
            importlib.import_module(module.name)


def _main() -> None:
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # whoever ends is gone at once
    _read_libraries()
    with socket.socket(fileno=int(sys.argv[1])) as line, line.makefile("rwb") as asked:
        for said in asked:
            words, env, cwd = json.loads(said)
            pid = os.fork()
            if pid == 0:
                break
            asked.write(f"{pid}\n".encode())
            asked.flush()
        else:
            return
    _become(words, env, cwd)


def _become(words: list[str], env: dict[str, str], cwd: str) -> None:
    signal.signal(signal.SIGCHLD, signal.SIG_DFL)
    os.environ.clear()
    os.environ.update(env)
    os.chdir(cwd)
    if words[0] == "-m":
        sys.argv = words[1:]
        runpy.run_module(words[1], run_name="__main__", alter_sys=True)
    else:
        sys.argv = words
        runpy.run_path(words[0], run_name="__main__")


if __name__ == "__main__":
    _main()
