"""Folders that file systems and computers keep for themselves at the top of a medium: no part of anybody's work."""

import errno

_SYSTEMS = {
    "lost+found", "system volume information", "$recycle.bin", ".trashes", ".fseventsd", ".spotlight-v100",
    ".documentrevisions-v100", ".temporaryitems",
}  # fmt: skip
"""Source: e2fsck(8) for the first; the others as common practice, from memory."""
_CLOSED = (errno.EACCES, errno.EPERM)


def is_systems(name: str) -> bool:
    """Whether a folder at the top is such.

    >>> is_systems("lost+found"), is_systems("DCIM")
    (True, False)
    """
    return name.casefold() in _SYSTEMS


def is_kept_closed(name: str, error: OSError) -> bool:
    """Whether a folder at the top is such, and does not open for us. One that opens is read like any other."""
    return is_systems(name) and error.errno in _CLOSED
