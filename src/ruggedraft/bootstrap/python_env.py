"""The virtual environment, installed by uv from the lock file."""

import os
import sys
from pathlib import Path

from .places import ROOT, TOOLS, VENV, VENV_PYTHON
from .steps import fingerprint, once, run, say
from .system_packages import PYTHON, install_missing

UV = "uv==0.13.9"


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
    name = "python-development" if development else "python"
    mark = fingerprint([ROOT / "uv.lock", ROOT / "pyproject.toml"], sys.version, str(VENV), *groups)

    def sync() -> None:
        say("installing Python packages")
        environment = {**os.environ, "UV_PYTHON_DOWNLOADS": "never", "UV_PROJECT_ENVIRONMENT": str(VENV)}
        uv = tool("uv", UV, "bin/uv")
        run([uv, "sync", "--frozen", "--python", sys.executable, *groups], cwd=ROOT, env=environment)

    once(name, mark, VENV_PYTHON, sync)
