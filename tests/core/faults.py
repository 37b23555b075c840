"""A faulty operating system: the calls a store or a card makes, with one of them going wrong.

The engine's modules get a stand-in for `os` that passes everything on, counts the calls of each kind, and at the
chosen one fails, does less than it was asked, or lies. Power can be cut between any two calls as well: what was not
synced by then is lost, and what was renamed without syncing its folder may not have happened.
"""

import errno
import os
import random
import threading
from collections import Counter
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass
from pathlib import Path
from unittest.mock import patch

from ruggedraft.core.files import confinement, medium
from ruggedraft.core.packages import reading, writing
from ruggedraft.core.sources import folder
from ruggedraft.core.stores.local import notes, parts, reading_small
from ruggedraft.core.stores.local import store as local
from ruggedraft.core.stores.packages import store as packages

MODULES = (confinement, folder, local, medium, notes, packages, parts, reading, reading_small, writing)
ERRORS = {
    "open": (errno.EIO, errno.ENOSPC, errno.EROFS, errno.ESTALE, errno.ENODEV, errno.EACCES, errno.EMFILE),
    "write": (errno.EIO, errno.ENOSPC, errno.EDQUOT, errno.EROFS, errno.ESTALE, errno.ENODEV, errno.ETIMEDOUT),
    "pwrite": (errno.EIO, errno.ENOSPC, errno.EDQUOT, errno.EROFS, errno.ENODEV),
    "pread": (errno.EIO, errno.ENODEV),
    "ftruncate": (errno.EIO, errno.ENOSPC, errno.EROFS),
    "fdatasync": (errno.EIO, errno.ENOSPC, errno.ENODEV),
    "fsync": (errno.EIO, errno.ENOSPC, errno.EDQUOT, errno.ENODEV, errno.ETIMEDOUT),
    "syncfs": (errno.EIO, errno.ENOSPC, errno.EDQUOT, errno.ENODEV),
    "preadv": (errno.EIO, errno.ESTALE, errno.ENODEV, errno.ETIMEDOUT),
    "rename": (errno.EIO, errno.ENOSPC, errno.EROFS, errno.ENODEV),
    "renameat2": (errno.EIO, errno.ENOSPC, errno.EROFS, errno.EEXIST, errno.EINVAL, errno.ENODEV),
    "mkdir": (errno.EIO, errno.ENOSPC, errno.EROFS),
    "stat": (errno.EIO, errno.ESTALE, errno.ENOENT),
    "fstat": (errno.EIO, errno.ESTALE),
    "utime": (errno.EIO, errno.EROFS),
    "fchmod": (errno.EIO, errno.EROFS, errno.EPERM),
    "unlink": (errno.EIO, errno.EROFS),
    "close": (errno.EIO, errno.EDQUOT),
    "posix_fadvise": (errno.EIO,),
    "listdir": (errno.EIO,),
    "scandir": (errno.EIO, errno.ENODEV),
}
LIES = {
    "write": ("short", "flipped"),
    "pwrite": ("short", "flipped"),
    "preadv": ("short", "flipped"),
    "fsync": ("rotten afterwards",),
    "syncfs": ("rotten afterwards",),
}
POWER = "power cut"


@dataclass(frozen=True)
class Fault:
    """At the nth call (from 0) of this kind: an error number, or how the call lies. ever_after: each later one too.

    call: "any" counts calls of every kind together
    """

    call: str
    nth: int
    how: int | str
    ever_after: bool = False

    def __str__(self) -> str:
        how = errno.errorcode[self.how] if isinstance(self.how, int) else self.how
        return f"{self.call} {self.nth}: {how}{' and ever after' if self.ever_after else ''}"


class FaultyOs:
    """Stands in for the `os` module. `fault`: None to count only."""

    def __init__(self, fault: Fault | None = None) -> None:
        self.fault, self.calls, self.struck = fault, Counter(), 0
        self.unsynced: set[int] = set()
        self.unsettled: list[tuple[int, str, int]] = []
        self._lock = threading.Lock()

    def __getattr__(self, name):
        real = getattr(os, name)
        return real if name not in ERRORS else lambda *words, **more: self.call(name, real, words, more)

    def call(self, name, real, words, more):
        with self._lock:
            nth = {name: self.calls[name], "any": self.calls["any"]}
            self.calls[name] += 1
            self.calls["any"] += 1
        fault = self.fault
        at = nth.get(fault.call, -1) if fault else -1
        if not fault or not (at == fault.nth or (fault.ever_after and at > fault.nth)):
            done = real(*words, **more)
            self._note(name, words, done)
            return done
        self.struck += 1
        if fault.how == POWER or isinstance(fault.how, int):
            number = errno.ENODEV if fault.how == POWER else fault.how
            if name == "close":
                real(*words)  # as Linux does, whatever it answers
            raise OSError(number, os.strerror(number))
        return _LIARS[name, fault.how](real, words)

    def _note(self, name, words, done) -> None:
        """What would be lost if the power went now."""
        if name in ("write", "pwrite"):
            self.unsynced.add(os.fstat(words[0]).st_ino)
        elif name in ("fsync", "fdatasync"):
            number = os.fstat(words[0]).st_ino
            self.unsynced.discard(number)
            self.unsettled = [one for one in self.unsettled if one[2] != number]
        elif name == "syncfs":
            self.unsynced.clear()
            self.unsettled.clear()
        elif name == "renameat2":
            folder = os.fstat(words[3]).st_ino
            inode = os.stat(words[2], dir_fd=words[3]).st_ino
            self.unsettled.append((inode, words[2], folder))

    def lose_what_was_not_synced(self, drive: Path, chance: random.Random) -> None:
        """The state a medium may be found in when the power comes back."""
        names_lost = {inode for inode, _, _ in self.unsettled if chance.random() < 0.5}
        for file in [path for path in drive.rglob("*") if path.is_file()]:
            inode = file.stat().st_ino
            if inode in names_lost:
                file.unlink()
            elif inode in self.unsynced:
                file.write_bytes(bytes(file.stat().st_size))


def _flipped(data) -> bytes:
    changed = bytearray(data)
    if changed:
        changed[len(changed) // 2] ^= 0x20
    return bytes(changed)


def _write_flipped(real, words):
    try:
        return real(words[0], _flipped(words[1]), *words[2:])
    except OSError:  # direct I/O wants its own buffers: flip in place, and back
        view = memoryview(words[1])
        view[len(view) // 2] ^= 0x20
        try:
            return real(words[0], view, *words[2:])
        finally:
            view[len(view) // 2] ^= 0x20


def _read_flipped(real, words):
    count = real(*words)
    view = words[1][0]
    if count:
        view[count // 2] ^= 0x20
    return count


def _read_short(real, words):
    descriptor, (view,), *rest = words
    return real(descriptor, [memoryview(view)[: max(1, len(view) // 3)]], *rest)


def _rot_after_sync(real, words):
    """The call succeeds, and then the medium loses a bit of what was synced."""
    real(*words)
    path = Path(f"/proc/self/fd/{words[0]}")
    files = [path] if not path.is_dir() else [one for one in path.iterdir() if one.is_file()][:1]
    for file in files:
        content = file.read_bytes()
        with file.open("r+b") as opened:
            opened.write(_flipped(content))
            opened.flush()
            os.fsync(opened.fileno())


_LIARS = {
    ("write", "short"): lambda real, words: real(words[0], memoryview(words[1])[: max(1, len(words[1]) // 2)]),
    ("write", "flipped"): _write_flipped,
    ("pwrite", "short"): lambda real, words: real(
        words[0], memoryview(words[1])[: max(1, len(words[1]) // 2)], words[2]
    ),
    ("pwrite", "flipped"): _write_flipped,
    ("preadv", "short"): _read_short,
    ("preadv", "flipped"): _read_flipped,
    ("fsync", "rotten afterwards"): _rot_after_sync,
    ("syncfs", "rotten afterwards"): _rot_after_sync,
}


@contextmanager
def faulty(fault: Fault | None = None):
    """The engine on a faulty system; yields it, with what was called and how often the fault struck.

    Folders of a tmpfs do for this: that reading comes past the caches is another test's matter.
    """
    system = FaultyOs(fault)
    rename, sync = medium.rename_to_free_name, medium.sync_together
    with ExitStack() as patched:
        for module in MODULES:
            patched.enter_context(patch.object(module, "os", system))
        patched.enter_context(
            patch.object(parts, "rename_to_free_name", lambda *words: system.call("renameat2", rename, words, {}))
        )
        for module in (local, parts):
            patched.enter_context(patch.object(module, "sync_together", lambda *w: system.call("syncfs", sync, w, {})))
        yield system


@contextmanager
def tmpfs_is_a_medium():
    with patch.object(medium, "cached_pages", lambda descriptor, size, at=0: 0):
        yield


def every_fault(calls: Counter) -> list[Fault]:
    """Each fault at each call that a good run makes; errors also as the beginning of the end."""
    found = []
    for call, count in sorted(calls.items()):
        if call == "any":
            found += [Fault("any", nth, errno.ENODEV, ever_after=True) for nth in range(count)]
            continue
        for nth in range(count):
            found += [Fault(call, nth, how) for how in (*ERRORS[call], *LIES.get(call, ()))]
            found += [Fault(call, nth, ERRORS[call][0], ever_after=True)]
    return found
