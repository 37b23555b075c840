"""Whether two open files hold the same bytes, each read from its medium."""

from .port import OpenFile

_PIECE = 1 << 20  # bytes


def same_bytes(one: OpenFile, other: OpenFile) -> bool:
    """Byte for byte, from the start to the end of both, past the caches where that can be had. Raises SourceError."""
    one.past_caches()
    other.past_caches()
    mine, theirs = bytearray(_PIECE), bytearray(_PIECE)
    while True:
        count, there = _fill(one, mine), _fill(other, theirs)
        if count != there or mine[:count] != theirs[:there]:
            return False
        if not count:
            return True


def _fill(file: OpenFile, into: bytearray) -> int:
    """As much as there is, up to a piece."""
    view, count = memoryview(into), 0
    while count < len(into):
        got = file.read_into(view[count:])
        if not got:
            break
        count += got
    return count
