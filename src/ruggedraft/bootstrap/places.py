"""Where things are in a checkout. `RAFT_VAR` moves everything that is made at run time."""

import os
import shutil
from pathlib import Path

from .problems import CannotGoOn

ROOT = Path(__file__).resolve().parents[3]
SOURCES = ROOT / "src"
WEB = ROOT / "web"
VAR = Path(os.environ.get("RAFT_VAR") or ROOT / "var").absolute()
TOOLS = VAR / "tools"
VENV = Path(os.environ.get("RAFT_VENV") or ROOT / ".venv").absolute()
VENV_PYTHON = VENV / "bin" / "python"
STAMPS = VAR / "stamps"

ROOM_NEEDED = 3 * 10**9  # bytes: environment 0.5, browser and server packages 1.5, database and demo 0.5, some air


def make_var() -> None:
    """Create the run-time folder, or say in a sentence why that is not possible."""
    try:
        STAMPS.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise CannotGoOn(f"The folder {VAR} cannot be written: {error.strerror}.") from error


def require_room(needed: int = ROOM_NEEDED) -> None:
    free = shutil.disk_usage(VAR).free
    if free < needed:
        raise CannotGoOn(
            f"Setting up needs {needed / 1e9:.1f} GB in {VAR}, and only {free / 1e9:.1f} GB are free: "
            f"make {(needed - free) / 1e9:.1f} GB of room, or set RAFT_VAR to a folder on a larger disk."
        )
