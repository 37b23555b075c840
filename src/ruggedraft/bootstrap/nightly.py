"""The ledger is backed up once a day to the stores that people chose for it, while the application runs."""

import json
import re
import subprocess
import threading
import time
from collections.abc import Mapping
from pathlib import Path

from . import app, backups
from .problems import CannotGoOn
from .steps import say

_FIRST_AFTER_S = 300.0
_LOOK_EVERY_S = 900.0
KEPT = 14
"""So many daily backups stay on a store; older ones of ours go."""
_OURS = re.compile(r"ledger-\d{4}-\d\d-\d\d-\d{6}\.raft")


class Nightly:
    """Looks now and then whether a backup is due, apart from whatever else is looked after."""

    def __init__(self, url: str, env: Mapping[str, str]) -> None:
        """url: of the database, as its owner. env: for our own commands on it"""
        self._url, self._env = url, dict(env)
        self._next = time.monotonic() + _FIRST_AFTER_S
        self._at_work: threading.Thread | None = None

    def look(self) -> None:
        if time.monotonic() < self._next or (self._at_work and self._at_work.is_alive()):
            return
        self._next = time.monotonic() + _LOOK_EVERY_S
        self._at_work = threading.Thread(target=self.make_those_due, daemon=True)
        self._at_work.start()

    def make_those_due(self) -> None:
        asked = subprocess.run([*app.manage_command(), "backups_due"], env=self._env, capture_output=True, text=True)
        if asked.returncode:
            return  # the database is away; it is asked again
        for store, folder in json.loads(asked.stdout):
            try:
                made = self._make(Path(folder))
            except (CannotGoOn, OSError) as problem:
                say(f"the ledger could not be backed up to '{store}': {problem}")
                continue
            subprocess.run([*app.manage_command(), "note_backup", store, str(made)], env=self._env)

    def _make(self, folder: Path) -> Path:
        """Raises CannotGoOn or OSError; then there is no file of that name."""
        folder.mkdir(exist_ok=True)
        target = folder / f"ledger-{time.strftime('%Y-%m-%d-%H%M%S')}.raft"
        backups.write_backup(self._url, target)
        ours = sorted(file for file in folder.iterdir() if _OURS.fullmatch(file.name))
        for old in ours[:-KEPT]:
            old.unlink()
        return target
