"""Backups of a ledger: one file that holds all of it, and a ledger made again from one."""

import argparse
import hashlib
import io
import json
import os
import subprocess
import tarfile
import tempfile
import time
from pathlib import Path

from . import app, places, postgres
from .ledgers import Ledger, asked_for, reached
from .problems import CannotGoOn
from .steps import say

_DUMP, _ABOUT, _KEY = "ledger.dump", "about.json", "secret-key"
_KEPT = 10
"""So many backups that were made before upgrades are kept; older ones go."""


def backup(words: list[str]) -> int:
    """`./raft backup FILE`: consistent while people work, and complete before it has its name."""
    ledger, words = asked_for(words)
    parser = argparse.ArgumentParser(prog="raft backup", description="Write all of the ledger into FILE.")
    parser.add_argument("file", type=Path, metavar="FILE")
    target = parser.parse_args(words).file.absolute()
    app.set_up()
    with reached(ledger) as server:
        url = os.environ["RAFT_DATABASE_URL"] if server is None else postgres.of_database(server, ledger.database)
        write_backup(url, target)
    size = target.stat().st_size / 1e6
    say(f"{target} holds all of it: {size:.1f} MB. `./raft restore {target}` makes a ledger of it.")
    return 0


def write_backup(url: str, target: Path) -> None:
    """url: of the database, as its owner. Raises CannotGoOn; then there is no file of that name."""
    if target.exists():
        raise CannotGoOn(f"There is a file {target} already: nothing was overwritten. Give another name.")
    try:
        with tempfile.TemporaryDirectory(dir=target.parent, prefix=".raft-backup-") as folder:
            dump = Path(folder, _DUMP)
            postgres.dump(url, dump)
            about = {"made_at": time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime()), "sha256": _digest(dump), "form": 1}
            part = Path(folder, "whole")
            with tarfile.open(part, "w") as whole:
                whole.add(dump, _DUMP)
                _add(whole, _ABOUT, json.dumps(about).encode())
                _add(whole, _KEY, app.secret_key().encode())
            part.chmod(0o600)
            _checked(part)
            with part.open("rb") as file:
                os.fsync(file.fileno())
            os.link(part, target)  # not rename: what came under this name meanwhile stays
    except FileExistsError as error:
        raise CannotGoOn(f"There is a file {target} already: nothing was overwritten.") from error
    except OSError as error:
        raise CannotGoOn(f"{target} cannot be written ({error.strerror}). No backup was made.") from error


def restore(words: list[str]) -> int:
    """`./raft restore FILE`: into an empty ledger, or beside one that is kept under another name."""
    ledger, words = asked_for(words)
    parser = argparse.ArgumentParser(prog="raft restore", description="Make the ledger again from FILE.")
    parser.add_argument("file", type=Path, metavar="FILE")
    parser.add_argument("--keep-old", action="store_true", help="a ledger that is there is kept under another name")
    options = parser.parse_args(words)
    if os.environ.get("RAFT_DATABASE_URL"):
        raise CannotGoOn("RAFT_DATABASE_URL names a database of its own: restore that one with pg_restore.")
    app.set_up()
    with tempfile.TemporaryDirectory(dir=places.VAR, prefix="restore-") as folder:
        dump, key = _taken_out(options.file, Path(folder))
        with app.stopped(ledger), postgres.running() as server:
            make_room(server, ledger, keep_old=options.keep_old)
            postgres.load(server, ledger.database, dump)
            app.keep_secret_key(key)
            owner = app.environment(server, ledger.database, owner=True) | ledger.environment
            app.run_own([*app.manage_command(), "prepare"], owner)
            whole = subprocess.run([*app.manage_command(), "verify_journal"], env=owner).returncode == 0
    if not whole:
        say("records beside copies know of acts that came after this backup, named above: they are not in this ledger")
    say(f"{ledger.name} is as it was when {options.file} was made. What came since is not in it: read the cards again.")
    return 0


def before_upgrade(server: str, ledger: Ledger, owner: dict[str, str]) -> None:
    """A backup of a ledger that an older version made, before this one changes it."""
    if not postgres.has_database(server, ledger.database) or ledger.demo:
        return
    current = subprocess.run([*app.manage_command(), "migrate", "--check"], env=owner, capture_output=True)
    if current.returncode == 0:
        return
    folder = places.VAR / "backups"
    folder.mkdir(exist_ok=True)
    target = folder / f"before-upgrade-{time.strftime('%Y-%m-%d-%H%M%S')}.raft"
    write_backup(postgres.of_database(server, ledger.database), target)
    say(f"an older version made this ledger; it was backed up to {target} first")
    for old in sorted(folder.glob("before-upgrade-*.raft"))[:-_KEPT]:
        old.unlink()


def make_room(server: str, ledger: Ledger, *, keep_old: bool) -> None:
    """Raises CannotGoOn where somebody's ledger is in the way. One that nobody has begun is nobody's."""
    if not postgres.has_database(server, ledger.database):
        return
    if app.is_empty(app.environment(server, ledger.database) | ledger.environment):
        postgres.drop(server, ledger.database)
        return
    if not keep_old:
        raise CannotGoOn(
            f"There is {ledger.name} already, and nothing was changed. With --keep-old it is kept under another name."
        )
    kept = f"{ledger.database}_until_{time.strftime('%Y%m%d_%H%M%S')}"
    postgres.rename(server, ledger.database, kept)
    say(f"the ledger that was there is kept as the database {kept}")


def _taken_out(file: Path, folder: Path) -> tuple[Path, str]:
    """The dump and the key of a backup. Raises CannotGoOn for what is none, or is not whole."""
    try:
        about = _checked(file)
        with tarfile.open(file) as whole:
            whole.extract(_DUMP, folder, filter="data")
            key = _read(whole, _KEY).decode()
    except (OSError, tarfile.TarError, KeyError, ValueError) as error:
        raise CannotGoOn(f"{file} is no backup of a ledger, or is not whole ({error}). Nothing was changed.") from error
    if _digest(folder / _DUMP) != about["sha256"]:
        raise CannotGoOn(f"{file} is damaged: what is in it is not what was put in. Nothing was changed.")
    return folder / _DUMP, key


def _checked(file: Path) -> dict[str, str]:
    """What a backup says of itself, if its dump is what it says. Raises OSError, TarError, KeyError or ValueError."""
    with tarfile.open(file) as whole:
        about: dict[str, str] = json.loads(_read(whole, _ABOUT))
        dump = whole.extractfile(_DUMP)
        digest = hashlib.file_digest(dump, "sha256").hexdigest() if dump else ""  # type: ignore[arg-type]
    if digest != about["sha256"]:
        raise ValueError("its checksum differs")
    return about


def _read(whole: tarfile.TarFile, name: str) -> bytes:
    found = whole.extractfile(name)
    if found is None:
        raise KeyError(name)
    return found.read()


def _add(whole: tarfile.TarFile, name: str, content: bytes) -> None:
    entry = tarfile.TarInfo(name)
    entry.size, entry.mode = len(content), 0o600
    whole.addfile(entry, io.BytesIO(content))


def _digest(file: Path) -> str:
    with file.open("rb") as content:
        return hashlib.file_digest(content, "sha256").hexdigest()
