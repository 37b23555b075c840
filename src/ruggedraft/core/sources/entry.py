"""One name on a card, as it stood at one moment."""

from enum import StrEnum
from typing import NamedTuple


class EntryKind(StrEnum):
    """What stands under a name."""

    FILE = "file"
    FOLDER = "folder"
    LINK = "link"
    SPECIAL = "special"
    """a pipe, socket or device file: nothing that can be copied"""
    UNREADABLE = "unreadable"
    """a folder whose content could not be listed"""
    SYSTEM = "system folder"
    """a folder that a computer keeps for itself at the top of a file system, closed to us; no camera writes there"""


class Entry(NamedTuple):
    """One name on a card. A tuple, as there are tens of thousands of them.

    path: relative to the card, `/` between parts, surrogate-escaped
    size: bytes; 0 for everything but files
    modified_ns: modification time in nanoseconds since 1970-01-01 UTC
    detail: where a link points, or why a folder cannot be read
    mode: permissions, where known
    """

    path: str
    kind: EntryKind
    size: int = 0
    modified_ns: int = 0
    detail: str = ""
    mode: int | None = None

    @property
    def needs_cover(self) -> bool:
        """Whether this must be in a copy, or waived, before the card may go. Only folders carry nothing."""
        return self.kind not in (EntryKind.FOLDER, EntryKind.SYSTEM)
