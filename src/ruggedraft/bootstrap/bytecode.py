"""Python's compiled code is kept in the run-time folder, for every process that begins from here.

Without it each process compiles all of its libraries again, which is most of what starting costs. Where an environment
says that nothing is to be written beside the sources (PYTHONDONTWRITEBYTECODE), this still does as it says.
"""

import os
import sys

from . import places


def keep() -> None:
    if "PYTHONPYCACHEPREFIX" not in os.environ:
        os.environ["PYTHONPYCACHEPREFIX"] = str(places.VAR / "bytecode")
        os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
    sys.pycache_prefix = os.environ["PYTHONPYCACHEPREFIX"]
    sys.dont_write_bytecode = "PYTHONDONTWRITEBYTECODE" in os.environ
