"""The checksums that ASC MHL knows, and those of folders that are made of them."""

import hashlib
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

import xxhash

from ...errors import UnknownAlgorithm
from ...hashing import ALGORITHMS, Hasher

_C4 = "123456789ABCDEFGHJKLMNPQRSTUVWXYZabcdefghijkmnopqrstuvwxyz"
_C4_DIGITS = 88


@dataclass(frozen=True)
class Hash:
    """start: begins one. digits: hexadecimal ones, 0 for C4, which is written in another way"""

    name: str
    digits: int
    start: Callable[[], Hasher]

    def said(self, hasher: Hasher) -> str:
        """As a list has it."""
        return hasher.hexdigest() if self.digits else c4_of(bytes.fromhex(hasher.hexdigest()))

    def of(self, data: bytes) -> str:
        """The checksum of these bytes."""
        hasher = self.start()
        hasher.update(data)
        return self.said(hasher)

    def as_bytes(self, said: str) -> bytes:
        """The inverse of `said`. Raises ValueError for what is no such checksum."""
        if self.digits:
            if len(said) != self.digits:
                raise ValueError(said)
            return bytes.fromhex(said)
        return _from_c4(said)


HASHES: Mapping[str, Hash] = {
    one.name: one
    for one in (
        *(Hash(name, ALGORITHMS[name].digits, ALGORITHMS[name].start) for name in ("md5", "sha1", "xxh64", "xxh128")),
        Hash("xxh3", 16, xxhash.xxh3_64),
        Hash("c4", 0, hashlib.sha512),
    )
}
"""By the names of their elements."""


def hash_named(name: str) -> Hash:
    """Raises UnknownAlgorithm."""
    if name not in HASHES:
        raise UnknownAlgorithm(f"ASC MHL is written with {', '.join(HASHES)}, and not with {name}.")
    return HASHES[name]


def c4_of(digest: bytes) -> str:
    """A SHA-512 digest as a C4 ID (SMPTE ST 2114).

    >>> c4_of(hashlib.sha512(b"").digest())[:20]
    'c459dsjfscH38cYeXXYo'
    """
    value, made = int.from_bytes(digest, "big"), ""
    while value:
        value, rest = divmod(value, 58)
        made = _C4[rest] + made
    return "c4" + made.rjust(_C4_DIGITS, _C4[0])


def _from_c4(said: str) -> bytes:
    if len(said) != _C4_DIGITS + 2 or not said.startswith("c4") or not set(said[2:]) <= set(_C4):
        raise ValueError(said)
    value = 0
    for sign in said[2:]:
        value = value * 58 + _C4.index(sign)
    return value.to_bytes(64, "big")


@dataclass(frozen=True)
class FolderSum:
    """content: of the files' content alone. structure: of their names besides"""

    content: str
    structure: str


def folder_sums(files: Mapping[str, str], kind: Hash, empty: Iterable[str] = ()) -> dict[str, FolderSum]:
    """Of a folder ("") and all folders beneath it, by path. files: checksums by path. empty: folders without files

    Each is the checksum of its children's checksums in ascending order; where the structure counts, each child's is one
    of its name (UTF-8) and its checksum.
    """
    found: dict[str, _Children] = {"": _Children()}
    for path in (*files, *empty):
        parts = path.split("/")
        for n in range(1, len(parts)):
            found.setdefault("/".join(parts[:n]), _Children())
    for path in empty:
        found.setdefault(path, _Children())
    for path, said in files.items():
        folder, _, name = path.rpartition("/")
        found[folder].add(kind, name, said, said)
    sums: dict[str, FolderSum] = {}
    for folder in sorted(found, key=lambda one: (-one.count("/") if one else 1, one)):
        sums[folder] = found[folder].sum(kind)
        if folder:
            above, _, name = folder.rpartition("/")
            found[above].add(kind, name, sums[folder].content, sums[folder].structure)
    return sums


class _Children:
    def __init__(self) -> None:
        self._content: list[str] = []
        self._structure: list[str] = []

    def add(self, kind: Hash, name: str, content: str, structure: str) -> None:
        self._content.append(content)
        self._structure.append(kind.of(name.encode("utf-8", "surrogateescape") + kind.as_bytes(structure)))

    def sum(self, kind: Hash) -> FolderSum:
        return FolderSum(_of_all(kind, self._content), _of_all(kind, self._structure))


def _of_all(kind: Hash, said: list[str]) -> str:
    return kind.of(b"".join(kind.as_bytes(one) for one in sorted(said)))
