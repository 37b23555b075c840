"""Runs the steps of set-up: each is announced, done once, and never by two commands at the same time."""

import fcntl
import hashlib
import os
import subprocess
import sys
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path

from .places import SOURCES, STAMPS, VAR
from .problems import CannotGoOn


def say(sentence: str) -> None:
    """Set-up speaks on standard error: standard output belongs to the command's own result."""
    print(f"raft: {sentence}", file=sys.stderr, flush=True)


def run(command: Sequence[str | Path], *, cwd: Path | None = None, env: dict[str, str] | None = None) -> str:
    """Run one set-up program quietly; its output is shown only when it fails. Returns what it printed."""
    name = Path(command[0]).name
    try:
        done = subprocess.run(
            command,
            cwd=cwd,
            env=env,
            stdin=subprocess.DEVNULL,
            capture_output=True,
            text=True,
            errors="replace",
        )
    except FileNotFoundError as error:
        raise CannotGoOn(f"The program {name} is not on this machine.") from error
    if done.returncode:
        print((done.stdout + done.stderr)[-4000:], file=sys.stderr)
        raise CannotGoOn(f"{name} failed with exit code {done.returncode}; what it said stands above.")
    return done.stdout


@contextmanager
def one_at_a_time() -> Iterator[None]:
    """Two commands started together set up one after the other; the second finds the work done."""
    with (VAR / "setup.lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            say("another raft command is setting up; waiting for it.")
            fcntl.flock(lock, fcntl.LOCK_EX)
        yield


def fingerprint(paths: Iterable[Path], *words: str) -> str:
    """A digest of files (folders are walked) and words, to tell whether a step must be done again."""
    digest = hashlib.sha256(repr(words).encode())
    for path in paths:
        for file in sorted(path.rglob("*")) if path.is_dir() else [path]:
            if file.is_file():
                digest.update(str(file).encode() + b"\0" + hashlib.sha256(file.read_bytes()).digest())
    return digest.hexdigest()


def once(name: str, mark: str, still_there: Path, step: Callable[[], None]) -> None:
    """Do a step unless it was done for this very fingerprint and its result is still there."""
    stamp = STAMPS / name
    if still_there.exists() and stamp.exists() and stamp.read_text() == mark:
        return
    stamp.unlink(missing_ok=True)
    step()
    stamp.write_text(mark)


def become(command: list[str]) -> int:
    """Replace this process, so that signals and exit codes are the command's own."""
    os.execve(command[0], command, {**os.environ, "PYTHONPATH": str(SOURCES)})  # noqa: S606
