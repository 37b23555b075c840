"""Paths as the ledger and the API write them: always valid text, always reversible.

A database and JSON hold Unicode text; a file system holds bytes. Bytes that are not UTF-8 become `\\xNN`, and a
backslash doubles so that nothing is ambiguous. Ordinary names stay as they are.
"""

import re

_ESCAPE = re.compile(r"\\(\\|x[0-9a-f]{2})")


def to_ledger(path: str) -> str:
    r"""
    >>> to_ledger("DCIM/caf\udce9.jpg")
    'DCIM/caf\\xe9.jpg'
    """
    if path.isascii() and "\\" not in path:
        return path
    doubled = path.replace("\\", "\\\\")
    return re.sub("[\udc80-\udcff]", lambda found: f"\\x{ord(found[0]) - 0xDC00:02x}", doubled)


def from_ledger(text: str) -> str:
    """The inverse of `to_ledger`."""
    if "\\" not in text:
        return text
    return _ESCAPE.sub(lambda found: "\\" if found[1] == "\\" else chr(0xDC00 + int(found[1][1:], 16)), text)
