"""Checksum algorithms by the names they have on the command line and in list files."""

import hashlib
from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import blake3
import xxhash

from ..errors import UnknownAlgorithm


class Hasher(Protocol):
    """A checksum in the making."""

    def update(self, data: bytes | bytearray | memoryview, /) -> object:
        """Add bytes at the end."""

    def hexdigest(self) -> str:
        """The checksum of all bytes so far, in lower-case hexadecimal."""


@dataclass(frozen=True)
class Algorithm:
    """One checksum: its name (also the list file's ending), its hexadecimal length, and how to start one.

    xxHash digests are written big-endian, the canonical form of the xxHash specification.
    """

    name: str
    digits: int
    start: Callable[[], Hasher]
    detects_tampering: bool


ALGORITHMS: dict[str, Algorithm] = {
    algorithm.name: algorithm
    for algorithm in (
        Algorithm("xxh128", 32, xxhash.xxh3_128, False),
        Algorithm("xxh64", 16, xxhash.xxh64, False),
        Algorithm("md5", 32, lambda: hashlib.md5(usedforsecurity=False), False),
        Algorithm("sha1", 40, lambda: hashlib.sha1(usedforsecurity=False), False),
        Algorithm("sha256", 64, hashlib.sha256, True),
        Algorithm("blake3", 64, blake3.blake3, True),
    )
}
DEFAULT = "xxh128"


def algorithm_named(name: str) -> Algorithm:
    """Raises UnknownAlgorithm, which lists the known ones: an unknown checksum stops, it never skips."""
    try:
        return ALGORITHMS[name]
    except KeyError:
        known = ", ".join(ALGORITHMS)
        raise UnknownAlgorithm(f"There is no checksum called '{name}'; known are {known}.") from None
