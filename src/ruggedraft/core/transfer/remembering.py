"""What an earlier part of a run has proven: written down on each store, and believed where nothing speaks against it.

A run that is cut short costs the next one only what was not proven. For that each lane notes, group by group, what was
read off the card and agreed when it was read back from its store. The notes lie on the store, in blocks:

    checksum of this block, in hexadecimal | a space | JSON, ending with a newline

The checksum (BLAKE2b, keyed, RFC 7693) goes over the checksum of the block before and this block's JSON. Its key is the
caller's, and lies elsewhere. So a torn end, a block of another run, or one that was changed, left out or put elsewhere
ends what is believed. Of what is left, a file is believed of a store only if it stands there with the same size and
times, down to the time of its last change, and of the card only if its size, time and fingerprint are the same.
"""

import hashlib
import hmac
import json
from collections.abc import Iterable, Mapping, Sequence
from typing import Any, NamedTuple

from ..evidence import Evidence
from ..stores.port import Notes, Store
from .report import FileRead

_DIGEST = 32
"""Bytes of a block's checksum."""


class Memory(NamedTuple):
    """What a run may believe of earlier parts of it. key: at most 64 bytes, known to nobody who may write to the stores

    began: when this part began, in the caller's own words: they come back as `StoreResult.since` from later parts
    """

    key: bytes
    began: str


class Proven(NamedTuple):
    """A file that agreed when it was read back. kept: its path on the store. stamp: see `stores.port.Notes.stamps`"""

    read: FileRead
    kept: str
    level: Evidence
    began: str
    stamp: tuple[int, ...]


class Remembering:
    """One lane's notes. Whatever goes wrong with them costs time, and never more."""

    def __init__(self, notes: Notes, memory: Memory, algorithms: Sequence[str]) -> None:
        """algorithms: names of the checksums that the run takes, in their order"""
        self._notes, self._memory = notes, memory
        self._last = _digest(memory.key, b"", json.dumps(list(algorithms)).encode())
        self._stopped = False

    @property
    def began(self) -> str:
        """When this part did, as `Memory` has it."""
        return self._memory.began

    def recall(self) -> dict[str, Proven]:
        """What is still as it was proven, by path on the card. To be called once, before anything is noted."""
        try:
            content = self._notes.read()
            found, kept = self._proven(content)
            if kept < len(content):
                self._notes.keep(kept)
            stamps = self._notes.stamps([one.kept for one in found.values()])
        except Exception:  # whatever it is: what is not recalled is read
            self._stopped = True
            return {}
        return {path: one for (path, one), stamp in zip(found.items(), stamps, strict=True) if stamp == one.stamp}

    def _proven(self, content: bytes) -> tuple[dict[str, Proven], int]:
        """What the unbroken beginning of the notes says, and how many bytes that is."""
        found: dict[str, Proven] = {}
        kept = 0
        for line in content.splitlines(keepends=True):
            digest, _, block = line.partition(b" ")
            expected = _digest(self._memory.key, self._last, block)
            if not hmac.compare_digest(digest, expected):
                break
            self._last = expected
            kept += len(line)
            found |= _unpacked(json.loads(block))
        return found, kept

    def stamps(self, paths: Sequence[str]) -> list[tuple[int, ...] | None]:
        """Of files that are going to be read back: taken before that, a change that comes later is a change."""
        if not self._stopped:
            try:
                return self._notes.stamps(paths)
            except Exception:  # as above
                self._stopped = True
        return [None] * len(paths)

    def note(self, proven: Mapping[str, Proven]) -> None:
        """Write down what has just agreed, by path on the card."""
        if self._stopped or not proven:
            return
        block = json.dumps(_packed(self._memory.began, proven.items()), separators=(",", ":")).encode() + b"\n"
        digest = _digest(self._memory.key, self._last, block)
        try:
            self._notes.add(digest + b" " + block)
        except Exception:  # as above
            self._stopped = True
        self._last = digest


def remembering(store: Store, folder: str, memory: Memory | None, algorithms: Sequence[str]) -> Remembering | None:
    """None where nothing is to be remembered, or the store keeps no notes."""
    notes = store.notes(folder) if memory else None
    return Remembering(notes, memory, algorithms) if memory and notes else None


def known_to_all(known: Sequence[Mapping[str, Proven]]) -> dict[str, FileRead]:
    """Of each file that every store has proven the same, what was read off the card."""
    if not known:
        return {}
    first, *others = known
    same = {}
    for path, one in first.items():
        if all(path in other and other[path].read == one.read for other in others):
            same[path] = one.read
    return same


def _packed(began: str, proven: Iterable[tuple[str, Proven]]) -> dict[str, object]:
    return {"began": began, "files": [[path, *one.read, one.kept, one.level, one.stamp] for path, one in proven]}


def _unpacked(block: Mapping[str, Any]) -> dict[str, Proven]:
    """A block of which the checksum agreed: it has the form that `_packed` gave it."""
    found = {}
    for path, size, modified_ns, checksum, others, fingerprint, kept, level, stamp in block["files"]:
        read = FileRead(size, modified_ns, checksum, tuple(others), fingerprint)
        found[path] = Proven(read, kept, Evidence(level), block["began"], tuple(stamp))
    return found


def _digest(key: bytes, before: bytes, block: bytes) -> bytes:
    return hashlib.blake2b(before + block, key=key, digest_size=_DIGEST).hexdigest().encode()
