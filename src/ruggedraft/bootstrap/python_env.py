"""The virtual environment, installed by uv from the lock file."""

import os
import sys
from pathlib import Path

from .places import ROOT, STAMPS, TOOLS, VENV, VENV_PYTHON
from .steps import fingerprint, once, run, say
from .system_packages import PYTHON, install_missing

UV = "uv==0.13.9"
NAMES = ("python", "python-development")
"""Of the steps: what runs need, and what tests need too."""


def tool(name: str, requirement: str, result: str) -> Path:
    """Something from PyPI in a small environment of its own, so that the application's stays as locked.

    result: the path pattern, inside that environment, of what is wanted of it; the first match is returned.
    """
    if not (TOOLS / "bin" / "pip").exists():
        install_missing(PYTHON)
        run([sys.executable, "-m", "venv", "--clear", TOOLS])

    def install() -> None:
        say(f"installing {name} from PyPI")
        run([TOOLS / "bin" / "pip", "install", "-q", requirement])

    once(f"tool-{name}", requirement, next(TOOLS.glob(result), TOOLS / "absent"), install)
    return next(TOOLS.glob(result))


def ensure(*, development: bool) -> None:
    """Make `.venv` hold what the lock file says. What tests need is added, never taken away under a running app."""
    groups = ["--all-groups"] if development else ["--no-dev", "--inexact"]
    name = NAMES[development]
    mark = fingerprint([ROOT / "uv.lock", ROOT / "pyproject.toml"], sys.version, str(VENV), *groups)

    def sync() -> None:
        say("installing Python packages")
        environment = {**os.environ, "UV_PYTHON_DOWNLOADS": "never", "UV_PROJECT_ENVIRONMENT": str(VENV)}
        uv = tool("uv", UV, "bin/uv")
        run([uv, "sync", "--frozen", "--python", sys.executable, *groups], cwd=ROOT, env=environment)

    _forget_what_another_python_had()
    once(name, mark, VENV_PYTHON, sync)


def _forget_what_another_python_had() -> None:
    """Another Python makes the environment anew, and nothing that was put into it is there any more."""
    last = STAMPS / "python-interpreter"
    if not last.exists() or last.read_text() != sys.version:
        for name in NAMES:
            (STAMPS / name).unlink(missing_ok=True)
        last.write_text(sys.version)
