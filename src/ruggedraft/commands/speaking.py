"""What commands print for people: progress on a terminal, and names that cannot play tricks with it."""

import sys
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ruggedraft.core.transfer import Progress


def printable(text: str) -> str:
    """Control characters, line breaks and undecodable bytes as escapes.

    >>> printable("take\\n1\\udce9")
    'take\\\\n1\\\\xe9'
    """
    kept = "".join(c if c.isprintable() else c.encode("unicode_escape").decode() for c in text if c)
    return kept.replace("\\udc", "\\x")


class Meter:
    """One line on standard error, rewritten; silent when that is not a terminal."""

    def __init__(self) -> None:
        self._shown = False

    def show(self, progress: "Progress") -> None:
        if not sys.stderr.isatty():
            return
        stores = "  ".join(f"{s.name}: {_percent(s.verified, progress.total)} read back" for s in progress.stores)
        line = f"read {_percent(progress.read, progress.total)}  {printable(stores)}"
        print(f"\r\x1b[K{line[:160]}", end="", file=sys.stderr, flush=True)
        self._shown = True

    def end(self) -> None:
        if self._shown:
            print(file=sys.stderr)


def _percent(part: int, whole: int) -> str:
    return f"{100 * part // whole if whole else 100:3d} %"
