"""The reader's end of a lane whose work is done in another process. `far_end` says what passes between them."""

import contextlib
import os
import pickle
import queue
import socket
import threading
import time
from collections.abc import Callable, Mapping, Sequence
from multiprocessing.connection import Connection
from multiprocessing.reduction import send_handle
from typing import Any, Protocol

from ..evidence import Evidence
from ..sources.listing import Entry
from .asked import LaneWork
from .buffers import Buffer, Pool
from .far_end import FarWork
from .messages import SmallFiles
from .of_each import PathsAmong
from .progress import StoreProgress
from .remembering import Proven
from .report import FileRead, StoreResult

_ENDED = (
    "the process that wrote to '{}' ended unexpectedly{}; nothing more is claimed of it: run again, "
    "and what was proven until then is not read a second time"
)
_GRACE_S = 30.0
"""The far end itself tells of a store that is silent; this much later it is the far end that is."""


class Started(Protocol):
    """Whatever does the work of a far end."""

    def stop(self) -> str:
        """Have it end, at once if need be; returns how it ended where that is more than that it did."""


class LaneElsewhere:
    """See `AnyLane`. A far end that dies is trouble of its store alone."""

    closes = False

    def __init__(self, work: LaneWork, progress: StoreProgress, pool: Pool, silent_s: float) -> None:
        self.name, self.folder = work.target.store.name, work.target.folder
        proves = Evidence.ATTESTED if work.target.store.attests else Evidence.READ_BACK
        self._result = StoreResult(self.name, self.folder, len(work.files), proves=proves)
        names = [algorithm.name for algorithm in work.algorithms]
        self.work = FarWork(
            work.target, work.files, names, dict(work.kept_as), dict(work.times), pool.size, pool.count, silent_s
        )
        self._progress, self._pool = progress, pool
        self._silence: str | None = None
        self._left, self._takes, self._gone = False, True, False
        self._lock = threading.Lock()
        self._lent: dict[int, Buffer] = {}
        self._outbox: queue.SimpleQueue[tuple[Any, ...] | None] = queue.SimpleQueue()
        self._known: Mapping[str, Proven] = {}
        self._knows, self._over, self._closed = threading.Event(), threading.Event(), threading.Event()
        self._heard = time.monotonic()
        self._how = ""
        self._threads: list[threading.Thread] = []

    def connect(self, connection: Connection, far: Started) -> None:
        """Before `start`: the far end, and how to talk to it. Raises OSError."""
        self._connection, self._far = connection, far
        send_handle(connection, self._pool.memory, 0)

    @property
    def result(self) -> StoreResult:
        """Nothing is known of any file before all is."""
        return self._result

    @property
    def backlog(self) -> int:
        """Buffers that the far end holds."""
        return len(self._lent)

    @property
    def usable(self) -> bool:
        """As far as was heard."""
        return self._takes and not self._left and not self._gone

    @property
    def silence(self) -> str | None:
        """Of the store, or of the far end itself."""
        return self._silence

    def start(self) -> None:
        """Start talking and listening."""
        self._threads = [
            threading.Thread(target=self._tell, name=f"tell {self.name}", daemon=True),
            threading.Thread(target=self._hear, name=f"hear {self.name}", daemon=True),
        ]
        for thread in self._threads:
            thread.start()

    def known(self, patience_s: float) -> Mapping[str, Proven]:
        """As the far end found it."""
        return self._known if self._knows.wait(patience_s) else {}

    def believe(self, files: Sequence[Entry]) -> None:
        """Told as it is."""
        self._outbox.put(("believe", files))

    def begin(self, entry: Entry) -> None:
        """Told as it is: the far end knows what to say of it where the store was left behind."""
        self._outbox.put(("begin", entry))

    def piece(self, buffer: Buffer, count: int, *, hole: bool = False) -> None:
        """Lends the buffer, unless nobody would write it."""
        if self._lend(buffer):
            self._outbox.put(("piece", buffer.number, count, hole))

    def batch(self, buffer: Buffer, files: SmallFiles) -> None:
        """Lends the buffer, or tells only of what passed by."""
        self._outbox.put(("batch", buffer.number if self._lend(buffer) else -1, files.packed))

    def end(self, read: FileRead) -> None:
        """Told as it is."""
        self._outbox.put(("end", read))

    def give_up(self, reason: str) -> None:
        """Told as it is."""
        self._outbox.put(("give_up", reason))

    def withdraw(self, path: str, reason: str) -> None:
        """Told as it is."""
        self._outbox.put(("withdraw", path, reason))

    def finish(self, folders: Sequence[tuple[str, int | None]]) -> None:
        """Told as it is."""
        self._outbox.put(("finish", folders))

    def leave_behind(self) -> None:
        """What was not told yet is told without its bytes."""
        self._left = True
        waiting = []
        while not self._outbox.empty():
            waiting.append(self._outbox.get())
        self._outbox.put(("leave_behind",))
        for message in filter(None, waiting):
            self._pass_by(message)

    def _pass_by(self, message: tuple[Any, ...]) -> None:
        word, *rest = message
        if word in ("batch", "piece"):
            self._give_back(rest[0])
        if word == "batch":
            message = (word, -1, rest[1])
        if word not in ("piece", "end", "give_up"):
            self._outbox.put(message)

    def wait(self, silent_s: float) -> None:
        """The far end waits so long for its store; it is waited for a little longer."""
        while not self._over.wait(0.5):
            if time.monotonic() - self._heard > silent_s + _GRACE_S:
                self._how = " (it did not answer)"
                self._far.stop()  # before its buffers are used again: it must not wake and write what is in them then
                self._lose("")

    def close(self) -> None:
        """The far end closes the store; one that was silent is ended as it is."""
        if self._threads and not self._silence:
            self._outbox.put(("close",))
            self._closed.wait(self.work.silent_s)
        self._outbox.put(None)
        self._far.stop()
        with socket.socket(fileno=os.dup(self._connection.fileno())) as line, contextlib.suppress(OSError):
            line.shutdown(socket.SHUT_RDWR)
        for thread in self._threads:
            thread.join()
        self._connection.close()

    # What is told

    def _tell(self) -> None:
        """Whatever cannot be told any more is not waited for: `_hear` finds out why."""
        while (message := self._outbox.get()) is not None:
            try:
                self._connection.send_bytes(pickle.dumps(message))
            except OSError:
                self._pass_by(message)
                return

    def _lend(self, buffer: Buffer) -> bool:
        with self._lock:
            if self._left or self._gone:
                buffer.release()
                return False
            self._lent[buffer.number] = buffer
            return True

    def _give_back(self, number: int) -> None:
        with self._lock:
            buffer = self._lent.pop(number, None)
        if buffer:
            buffer.release()

    # What is heard

    def _hear(self) -> None:
        hears: dict[str, Callable[..., None]] = {
            "closed": self._closed.set,
            "free": self._give_back,
            "known": self._hear_known,
            "result": self._hear_result,
            "state": self._hear_state,
        }
        try:
            while not self._closed.is_set():
                word, *rest = pickle.loads(self._connection.recv_bytes())  # noqa: S301 - from our own process
                self._heard = time.monotonic()
                hears[word](*rest)
        except Exception:  # most likely its end; whatever it is, nobody is to wait for it
            self._lose(self._far.stop())

    def _hear_known(self, known: Mapping[str, Proven]) -> None:
        self._known = known
        self._knows.set()

    def _hear_state(
        self, written: int, verified: int, files_verified: int, recalled: int, trouble: str, usable: bool
    ) -> None:
        one = self._progress
        one.written, one.verified, one.files_verified, one.recalled = written, verified, files_verified, recalled
        one.trouble, self._takes = trouble, usable

    def _hear_result(self, result: StoreResult, marks: bytes, silence: str | None) -> None:
        """marks: which of the files agreed; their names need not travel"""
        result.agreed = PathsAmong(self.work.files, marks)
        self._result, self._silence = result, silence
        self._over.set()

    def _lose(self, how: str) -> None:
        """Nothing is waited for any more, and nothing that was not said is claimed."""
        with self._lock:
            self._gone, lent = True, list(self._lent.values())
            self._lent.clear()
        for buffer in lent:
            buffer.release()
        if not self._over.is_set():
            self._silence = self._progress.trouble = _ENDED.format(self.name, self._how or how)
        for one in (self._knows, self._over, self._closed):
            one.set()
