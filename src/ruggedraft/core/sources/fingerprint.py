"""A few cheap bytes of a file that a rewritten file would not share.

Same name, size and time are a hint and no proof: cameras without a clock, and counters that begin again after a format,
repeat all three. The first and last 64 KiB of a recording hold its header, its embedded preview or its index, and the
end of its content.

The digest is XXH3 of 128 bits. It tells files apart that happen to differ, and costs a fiftieth of a cryptographic one:
with that, fingerprints took a fifth of the processor time of a run with many small files.
"""

import xxhash

from ..errors import SourceChanged
from .port import OpenFile

END = 64 * 1024
"""Bytes at each end. A file of up to twice as many goes in whole."""


def fingerprint_of(size: int, head: bytes | memoryview, tail: bytes | memoryview) -> str:
    """32 hexadecimal digits. head: the first bytes, at most `END`; tail: those at the end that are not in `head`."""
    digest = xxhash.xxh3_128(size.to_bytes(8, "big"))
    digest.update(head)
    digest.update(tail)
    return digest.hexdigest()


def ends_of(size: int) -> tuple[int, int]:
    """How many bytes at the start, and how many at the end, go into a file's fingerprint."""
    head = min(size, END)
    return head, min(END, size - head)


def fingerprint_whole(content: bytes | memoryview) -> str:
    """Of a file that is at hand in whole."""
    head, tail = ends_of(len(content))
    return fingerprint_of(len(content), content[:head], content[len(content) - tail :])


def ask_for_ends(file: OpenFile, size: int) -> None:
    """Say that a file's fingerprint is going to be read."""
    head, tail = ends_of(size)
    if head:
        file.ask_for(0, head)
    if tail:
        file.ask_for(size - tail, tail)


def read_fingerprint(file: OpenFile, size: int) -> str:
    """Of a file on a card. Raises SourceError, a SourceChanged where it has not `size` bytes any more."""
    head, tail = ends_of(size)
    first = file.read_at(0, head)
    last = file.read_at(size - tail, tail) if tail else b""
    if (len(first), len(last)) != (head, tail) or file.size_and_time()[0] != size:
        raise SourceChanged("its size changed while it was looked at")
    return fingerprint_of(size, first, last)


class EndsKept:
    """Gathers a fingerprint from a file that passes by in pieces."""

    def __init__(self, size: int) -> None:
        self._size = size
        self._head_size, self._tail_size = ends_of(size)
        self._head, self._tail = bytearray(), bytearray()
        self._at = 0

    def update(self, piece: memoryview) -> None:
        """The next piece of the file."""
        if len(self._head) < self._head_size:
            self._head += piece[: self._head_size - len(self._head)]
        begins = max(self._size - self._tail_size, self._head_size)
        if self._tail_size and self._at + len(piece) > begins:
            self._tail += piece[max(0, begins - self._at) :]
        self._at += len(piece)

    def fingerprint(self) -> str:
        """Of the whole file, once every piece of it has passed."""
        return fingerprint_of(self._size, bytes(self._head), bytes(self._tail))
