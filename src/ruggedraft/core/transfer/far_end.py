"""A lane whose work is done in another process: what happens there. `lane_elsewhere` is the reader's end of it.

Both ends send each other tuples of a word and what belongs to it, pickled. The reader's end says what a lane is told
(`any_lane.AnyLane`), buffers by their numbers; this end says which buffers are free again, how far the store is, and
what has become of it. Neither waits for the other, and what is not said does not count: a far end that dies has claimed
nothing.
"""

import contextlib
import mmap
import os
import pickle
import signal
import threading
from collections.abc import Callable, Sequence
from dataclasses import replace
from multiprocessing.connection import Connection
from multiprocessing.reduction import recv_handle
from typing import Any, NamedTuple

from ..hashing import algorithm_named
from ..sources.packed import Entries
from ..turns import Turns
from .asked import LaneWork, Target
from .lane import Lane
from .messages import SmallFiles
from .of_each import PathsAmong
from .progress import StoreProgress

_TOLD_S = 0.1
"""How often it says how far it is."""
_RECALL_S = 3600.0
"""The reader's end has its own patience."""


class FarWork(NamedTuple):
    """A `LaneWork` as it is sent, and the buffers that are shared. silent_s: see `AnyLane.wait`"""

    target: Target
    files: Entries
    algorithms: Sequence[str]
    kept_as: dict[str, str]
    times: dict[str, int]
    buffer_size: int
    buffers: int
    silent_s: float

    def work(self) -> LaneWork:
        """What the lane is to do."""
        algorithms = [algorithm_named(name) for name in self.algorithms]
        return LaneWork(self.target, self.files, algorithms, self.kept_as, self.times)


def be_far_end(connection: Connection, work: FarWork, not_ours: Sequence[Connection] = ()) -> None:
    """A process's whole life: it ends with the reader's process, however that ends.

    not_ours: what it inherited and must not keep open
    """
    for number in (signal.SIGINT, signal.SIGTERM):  # the reader's process says when it is over
        signal.signal(number, signal.SIG_IGN)
    for other in not_ours:
        other.close()
    serve(connection, work)
    os._exit(0)  # also where a thread hangs in a store


def serve(connection: Connection, work: FarWork) -> None:
    """Do what the reader's end says until it has heard enough, or is gone."""
    with contextlib.suppress(EOFError, OSError):
        memory = recv_handle(connection)
        try:
            buffers = mmap.mmap(memory, work.buffer_size * work.buffers)
        finally:
            os.close(memory)
        _FarEnd(connection, work, memoryview(buffers)).run()


class _FarEnd:
    def __init__(self, connection: Connection, work: FarWork, buffers: memoryview) -> None:
        self._connection, self._work, self._buffers = connection, work, buffers
        self._progress = StoreProgress(work.target.store.name)
        self._lane = Lane(work.work(), self._progress, Turns())
        self._sending, self._over = threading.Lock(), threading.Event()
        self._acts: dict[str, Callable[..., None]] = {
            "batch": self._batch,
            "begin": self._lane.begin,
            "believe": self._lane.believe,
            "end": self._lane.end,
            "finish": self._finish,
            "give_up": self._lane.give_up,
            "leave_behind": self._lane.leave_behind,
            "piece": self._piece,
            "withdraw": self._lane.withdraw,
        }

    def run(self) -> None:
        """Raises EOFError or OSError where the other end is gone."""
        self._lane.start()
        for work in (self._tell_known, self._tell_state):
            threading.Thread(target=self._telling, args=(work,), name="tell", daemon=True).start()
        try:
            while (message := pickle.loads(self._connection.recv_bytes()))[0] != "close":  # noqa: S301 - from our own process
                self._acts[message[0]](*message[1:])
            self._lane.close()
            self._say("closed")
        finally:
            self._over.set()

    def _telling(self, work: Callable[[], None]) -> None:
        with contextlib.suppress(OSError):  # the other end is gone, which `run` finds out
            work()

    def _tell_known(self) -> None:
        known = self._lane.known(_RECALL_S)
        self._say("state", *self._state())  # a store that is gone by now does not count with those that know nothing
        self._say("known", known)

    def _tell_state(self) -> None:
        told: tuple[Any, ...] = ()
        while not self._over.wait(_TOLD_S):
            now = self._state()
            if now != told:
                self._say("state", *now)
                told = now

    def _state(self) -> tuple[Any, ...]:
        one = self._progress
        return one.written, one.verified, one.files_verified, one.recalled, one.trouble, self._lane.usable

    def _finish(self, folders: Sequence[tuple[str, int | None]]) -> None:
        self._lane.finish(folders)
        threading.Thread(target=self._telling, args=(self._tell_result,), name="wait", daemon=True).start()

    def _tell_result(self) -> None:
        self._lane.wait(self._work.silent_s)
        self._say("state", *self._state())
        result = self._lane.result
        marks = bytes(result.agreed.marks) if isinstance(result.agreed, PathsAmong) else b""
        self._say("result", replace(result, agreed=set()), marks, self._lane.silence)

    def _batch(self, number: int, packed: bytes) -> None:
        self._lane.batch(self._lent(number), SmallFiles.unpacked(packed))

    def _piece(self, number: int, count: int, hole: bool) -> None:
        self._lane.piece(self._lent(number), count, hole=hole)

    def _lent(self, number: int) -> "_Lent":
        start = number * self._work.buffer_size
        return _Lent(self, number, self._buffers[start : start + self._work.buffer_size])

    def free(self, number: int) -> None:
        """A buffer was written."""
        with contextlib.suppress(OSError):  # as above
            self._say("free", number)

    def _say(self, *words: Any) -> None:
        data = pickle.dumps(words)
        with self._sending:
            self._connection.send_bytes(data)


class _Lent:
    """A buffer of the reader's process. number: -1 where it is not to be looked into any more"""

    def __init__(self, end: _FarEnd, number: int, view: memoryview) -> None:
        self._end, self._number, self.view = end, number, view

    def release(self) -> None:
        """Say so."""
        if self._number >= 0:
            self._end.free(self._number)
