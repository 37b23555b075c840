"""A few cheap bytes of a file that a rewritten file would not share.

Same name, size and time are a hint and no proof: cameras without a clock, and counters that begin again after a format,
repeat all three. The first and last 64 KiB of a recording hold its header, its embedded preview or its index, and the
end of its content.

The digest of a new ledger is XXH3. It tells files apart that happen to differ, and costs a fiftieth of BLAKE2b, with
which fingerprints took a fifth of the processor time of a run with many small files. A ledger that has fingerprints of
one kind goes on with that kind: two kinds cannot be compared, and one of them alone says all there is to say.
"""

import hashlib
from enum import StrEnum

import xxhash

from ..errors import SourceChanged
from .port import OpenFile

END = 64 * 1024
"""Bytes at each end. A file of up to twice as many goes in whole."""


class FingerprintKind(StrEnum):
    """How the bytes at the ends are digested: after the size in eight bytes, big-endian."""

    XXH3 = "xxh3"
    """XXH3 of 128 bits (xxHash specification): an `x`, and its first 31 hexadecimal digits"""
    BLAKE2B = "blake2b"
    """BLAKE2b of 128 bits (RFC 7693): 32 hexadecimal digits"""

    @classmethod
    def of(cls, fingerprint: str) -> "FingerprintKind":
        """The kind of one that is there."""
        return cls.XXH3 if fingerprint.startswith("x") else cls.BLAKE2B


def fingerprint_of(
    size: int, head: bytes | memoryview, tail: bytes | memoryview, kind: FingerprintKind = FingerprintKind.XXH3
) -> str:
    """32 characters. head: the first bytes, at most `END`; tail: those at the end that are not in `head`."""
    if kind is FingerprintKind.XXH3:
        quick = xxhash.xxh3_128(size.to_bytes(8, "big"))
        quick.update(head)
        quick.update(tail)
        return f"x{quick.hexdigest()[:31]}"
    digest = hashlib.blake2b(size.to_bytes(8, "big"), digest_size=16)
    digest.update(head)
    digest.update(tail)
    return digest.hexdigest()


def ends_of(size: int) -> tuple[int, int]:
    """How many bytes at the start, and how many at the end, go into a file's fingerprint."""
    head = min(size, END)
    return head, min(END, size - head)


def fingerprint_whole(content: bytes | memoryview, kind: FingerprintKind = FingerprintKind.XXH3) -> str:
    """Of a file that is at hand in whole."""
    head, tail = ends_of(len(content))
    return fingerprint_of(len(content), content[:head], content[len(content) - tail :], kind)


def ask_for_ends(file: OpenFile, size: int) -> None:
    """Say that a file's fingerprint is going to be read."""
    head, tail = ends_of(size)
    if head:
        file.ask_for(0, head)
    if tail:
        file.ask_for(size - tail, tail)


def read_fingerprint(file: OpenFile, size: int, kind: FingerprintKind = FingerprintKind.XXH3) -> str:
    """Of a file on a card. Raises SourceError, a SourceChanged where it has not `size` bytes any more."""
    head, tail = ends_of(size)
    first = file.read_at(0, head)
    last = file.read_at(size - tail, tail) if tail else b""
    if (len(first), len(last)) != (head, tail) or file.size_and_time()[0] != size:
        raise SourceChanged("its size changed while it was looked at")
    return fingerprint_of(size, first, last, kind)


class EndsKept:
    """Gathers a fingerprint from a file that passes by in pieces."""

    def __init__(self, size: int, kind: FingerprintKind = FingerprintKind.XXH3) -> None:
        self._size, self._kind = size, kind
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
        return fingerprint_of(self._size, bytes(self._head), bytes(self._tail), self._kind)
