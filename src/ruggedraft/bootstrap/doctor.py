"""`./raft doctor`: what is installed, reachable, slow or wrong here; for each finding the sentence that mends it."""

import os
import shutil
import socket
import subprocess
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

from . import app, places, postgres
from .ledgers import DEMO, GIVEN, OWN
from .problems import CannotGoOn
from .system_packages import SERVE, TEST

_LITTLE_ROOM = 5 * 10**9
_SLOW_S = 0.25
_PATIENCE_S = 3


@dataclass(frozen=True)
class Finding:
    """What was looked at; `mend`: what to do about it, or empty where nothing is wrong."""

    about: str
    said: str
    mend: str = ""


def doctor(words: list[str]) -> int:
    """Prints every finding; 1 if something wants mending. Changes and starts nothing."""
    if words:
        raise CannotGoOn("`./raft doctor` takes no words.")
    wrong = 0
    for look in (_programs, _room, _database, _application, _mounts):
        for finding in look():
            wrong += bool(finding.mend)
            print(f"{'!!' if finding.mend else 'ok'}  {finding.about}: {finding.said}")
            if finding.mend:
                print(f"    {finding.mend}")
    print(f"{wrong} of these want mending." if wrong else "Nothing wants mending.")
    return 1 if wrong else 0


def _programs() -> Iterator[Finding]:
    missing = sorted(name for name, there in SERVE.items() if not there())
    mend = f"`./raft start` installs them; or: apt-get install {' '.join(missing)}" if missing else ""
    yield Finding("programs", f"missing: {', '.join(missing)}" if missing else "all that serving needs is here", mend)
    yield from _programs_for_tests()
    built = (places.STAMPS / "web-build").exists() and places.VENV_PYTHON.exists()
    yield Finding("set-up", "done" if built else "not done", "" if built else "`./raft start` does it.")


def _programs_for_tests() -> Iterator[Finding]:
    lacking = sorted(name for name, there in TEST.items() if not there())
    if lacking:
        yield Finding("programs for tests", f"not here: {', '.join(lacking)}; `./raft test` installs them")


def _room() -> Iterator[Finding]:
    there = places.VAR if places.VAR.exists() else places.ROOT
    free = shutil.disk_usage(there).free
    mend = "Make room: when it is full, the database stops, and nothing more is noted." if free < _LITTLE_ROOM else ""
    yield Finding("room for the ledger", f"{free / 1e9:.1f} GB free at {there}", mend)
    probe = there / ".raft-doctor"
    try:
        began = time.monotonic()
        probe.write_bytes(b"raft")
        descriptor = os.open(probe, os.O_RDONLY)
        os.fsync(descriptor)
        os.close(descriptor)
        took = time.monotonic() - began
        slow = "A slow disk under the ledger makes every screen slow: use another one (RAFT_VAR)."
        yield Finding("disk of the ledger", f"syncs in {took * 1000:.0f} ms", slow if took > _SLOW_S else "")
    except OSError as error:
        yield Finding(
            "disk of the ledger", f"cannot be written ({error.strerror})", "See whether it is full or failing."
        )
    finally:
        probe.unlink(missing_ok=True)


def _database() -> Iterator[Finding]:
    given = os.environ.get(GIVEN)
    if given:
        yield _answers(f"the database of {GIVEN}", lambda: postgres.require(given), "Correct the address, or unset it.")
        return
    if not (postgres.HOME / "made").exists():
        yield Finding("database", "none yet", "`./raft start --own` makes it.")
        return
    if not postgres.is_running():
        yield Finding("database", "not running, as nothing of ours does; it starts with the next command")
        return
    yield Finding("database", "running")


def _application() -> Iterator[Finding]:
    for ledger in (OWN, DEMO):
        running = app.is_started(ledger)
        where = app.started_at(ledger)
        if not running:
            how = "./raft start" if ledger.demo else "./raft start --own"
            yield Finding(ledger.name, f"not being served; `{how}` does it")
            continue
        port = int(where.rsplit(":", 1)[-1].strip("/") or ledger.port) if where else ledger.port
        with socket.socket() as probe:
            probe.settimeout(_PATIENCE_S)
            there = probe.connect_ex(("127.0.0.1", port)) == 0
        mend = "" if there else "Look at what it says in its terminal; it starts again by itself."
        yield Finding(ledger.name, f"served at {where}" if there else "started, but does not answer", mend)


def _mounts() -> Iterator[Finding]:
    """Each mount is asked by a process of its own: one that hangs holds up nobody."""
    for line in Path("/proc/self/mountinfo").read_text().splitlines():
        fields = line.split(" ")
        kind, place = fields[fields.index("-", 6) + 1], fields[4].encode().decode("unicode_escape")
        if kind in ("nfs", "nfs4", "cifs", "smb3", "fuseblk", "fuse.sshfs", "exfat", "vfat", "ntfs3"):
            try:
                subprocess.run(["stat", "-f", place], capture_output=True, timeout=_PATIENCE_S)
                yield Finding(f"mount {place}", "answers")
            except subprocess.TimeoutExpired:
                yield Finding(f"mount {place}", "does not answer", "Look at its plug, its lights, or its network.")


def _answers(about: str, ask: Callable[[], None], mend: str) -> Finding:
    try:
        ask()
    except CannotGoOn as problem:
        return Finding(about, str(problem), mend)
    return Finding(about, "answers")
