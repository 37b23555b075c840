"""A faulty operating system: the calls a store makes, with one of them going wrong.

The engine's modules get a stand-in for `os` that passes everything on, counts the calls of each kind, and at the
chosen one fails, does less than it was asked, or lies.
"""

import errno
import os
import threading
from collections import Counter
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass
from unittest.mock import patch

from ruggedraft.core import confinement
from ruggedraft.core.stores import local, medium

MODULES = (confinement, local, medium)
ERRORS = {
    "open": (errno.EIO, errno.ENOSPC, errno.EROFS, errno.ESTALE, errno.ENODEV, errno.EACCES),
    "write": (errno.EIO, errno.ENOSPC, errno.EDQUOT, errno.EROFS, errno.ESTALE, errno.ENODEV),
    "fsync": (errno.EIO, errno.ENOSPC, errno.EDQUOT, errno.ENODEV),
    "preadv": (errno.EIO, errno.ESTALE, errno.ENODEV),
    "rename": (errno.EIO, errno.ENOSPC, errno.EROFS, errno.ENODEV),
    "renameat2": (errno.EIO, errno.ENOSPC, errno.EROFS, errno.EEXIST, errno.ENODEV),
    "mkdir": (errno.EIO, errno.ENOSPC, errno.EROFS),
    "stat": (errno.EIO, errno.ESTALE),
    "fstat": (errno.EIO, errno.ESTALE),
    "utime": (errno.EIO, errno.EROFS),
    "unlink": (errno.EIO, errno.EROFS),
    "listdir": (errno.EIO,),
}
LIES = {"write": ("short", "flipped"), "preadv": ("short", "flipped"), "fsync": ("rotten afterwards",)}


@dataclass(frozen=True)
class Fault:
    """At the nth call (from 0) of this kind: an error number, or how the call lies. ever_after: each later one too."""

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
        self._lock = threading.Lock()

    def __getattr__(self, name):
        real = getattr(os, name)
        return real if name not in ERRORS else lambda *words, **more: self.call(name, real, words, more)

    def call(self, name, real, words, more):
        with self._lock:
            nth = self.calls[name]
            self.calls[name] += 1
        fault = self.fault
        strikes = fault and fault.call == name and (nth == fault.nth or (fault.ever_after and nth > fault.nth))
        if not strikes:
            return real(*words, **more)
        self.struck += 1
        if isinstance(fault.how, int):
            raise OSError(fault.how, os.strerror(fault.how))
        return _LIARS[name, fault.how](real, words)


def _flipped(data) -> bytes:
    changed = bytearray(data)
    if changed:
        changed[len(changed) // 2] ^= 0x20
    return bytes(changed)


def _read_flipped(real, words):
    count = real(*words)
    view = words[1][0]
    if count:
        view[count // 2] ^= 0x20
    return count


def _read_short(real, words):
    descriptor, (view,), offset = words
    return real(descriptor, [memoryview(view)[: max(1, len(view) // 3)]], offset)


def _rot_after_sync(real, words):
    """The call succeeds, and then the medium loses a bit of what was synced."""
    real(*words)
    path = f"/proc/self/fd/{words[0]}"
    try:
        with open(path, "r+b") as file:  # noqa: PTH123
            content = file.read()
            file.seek(0)
            file.write(_flipped(content))
            file.flush()
            os.fsync(file.fileno())
    except OSError:
        pass  # a folder


_LIARS = {
    ("write", "short"): lambda real, words: real(words[0], memoryview(words[1])[: max(1, len(words[1]) // 2)]),
    ("write", "flipped"): lambda real, words: real(words[0], _flipped(words[1])),
    ("preadv", "short"): _read_short,
    ("preadv", "flipped"): _read_flipped,
    ("fsync", "rotten afterwards"): _rot_after_sync,
}


@contextmanager
def faulty(fault: Fault | None = None):
    """The engine's stores on a faulty system; yields it, with what was called and how often the fault struck."""
    system = FaultyOs(fault)
    real = local._rename_to_free_name

    def renamed(*words):
        return system.call("renameat2", real, words, {})

    with ExitStack() as patched:
        for module in MODULES:
            patched.enter_context(patch.object(module, "os", system))
        patched.enter_context(patch.object(local, "_rename_to_free_name", renamed))
        yield system


def every_fault(calls: Counter) -> list[Fault]:
    """Each fault at each call that a good run makes; errors also as the beginning of the end."""
    found = []
    for call, count in sorted(calls.items()):
        for nth in range(count):
            found += [Fault(call, nth, how) for how in (*ERRORS[call], *LIES.get(call, ()))]
            found += [Fault(call, nth, ERRORS[call][0], ever_after=True)]
    return found
