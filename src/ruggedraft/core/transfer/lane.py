"""One store's lane through a run: a thread that writes, and one behind it that names, reads back and compares."""

import contextlib
import dataclasses
import queue
import threading
import time
from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import Conflict, RaftError, StoreError
from ..evidence import Evidence
from ..sources.listing import Entry
from ..stores.port import PendingFile, Whole, beneath
from ..turns import Turns
from .asked import LaneWork
from .messages import Batch, Begin, End, Give, Lent, Message, Piece, SmallFile, SmallFiles
from .progress import StoreProgress
from .proving import Believed, Finish, Proving, Withdraw, Written, as_store_error
from .remembering import Proven, remembering
from .report import FileRead, StoreResult

_TOGETHER_FILES = 256
_TOGETHER_BYTES = 64 << 20
_TOGETHER_S = 1.0
"""Small files are synced together: as many as come in this time, at most."""
_LEFT = (
    "'{}' was too slow to keep the card waiting for it; it is fed afterwards from a copy that is verified: "
    "leave it connected, or run again"
)
_SILENT = "'{}' has not answered for {:.0f} seconds; nothing more is claimed of it: look at it, and run again"


class Lane:
    """See `AnyLane`; its work is done by threads of this process."""

    def __init__(self, work: LaneWork, progress: StoreProgress, turns: Turns) -> None:
        target = work.target
        self._store, self.folder, self._turns = target.store, target.folder, turns
        self._progress, self._kept_as, self._times = progress, work.kept_as, work.times
        proves = Evidence.ATTESTED if target.store.attests else Evidence.READ_BACK
        result = StoreResult(target.store.name, target.folder, len(work.files), proves=proves)
        names = [algorithm.name for algorithm in work.algorithms]
        self._memory = remembering(target.store, target.folder, target.memory, names)
        self._proving = Proving(work, result, progress, self._memory)
        self._ready = threading.Event()
        self._inbox: queue.SimpleQueue[Message] = queue.SimpleQueue()
        self._lock = threading.Lock()
        self._backlog, self._left = 0, False
        self._file: _Writing | None = None
        self._group: list[Written] = []
        self._group_bytes, self._group_began = 0, 0.0
        self._threads = [
            threading.Thread(target=self._write_all, name=f"write {target.store.name}", daemon=True),
            threading.Thread(target=self._proving.run, name=f"read back {target.store.name}", daemon=True),
        ]
        self._abandoned: StoreResult | None = None

    @property
    def name(self) -> str:
        """The store's."""
        return self._store.name

    @property
    def closes(self) -> bool:
        """Whether nothing of what it wrote is a copy before the store has settled it all."""
        return self._store.closes

    @property
    def result(self) -> StoreResult:
        """What has become of the store's files so far; final after `wait`."""
        return self._abandoned or self._proving.result

    @property
    def backlog(self) -> int:
        """Buffers that wait for this store."""
        return self._backlog

    @property
    def usable(self) -> bool:
        """Whether it still takes bytes: neither stopped by trouble nor left behind."""
        return not self._left and self._proving.stopped is None

    def start(self) -> None:
        """Start its threads."""
        for thread in self._threads:
            thread.start()

    def known(self, patience_s: float) -> dict[str, Proven]:
        """What an earlier part of the run has proven on the store, and still stands there as it was.

        patience_s: seconds for the store to look; nothing is known of one that takes longer
        """
        return self._proving.known if self._ready.wait(patience_s) else {}

    def believe(self, files: Sequence[Entry]) -> None:
        """Files that are `known`, and are not read off the card again."""
        self._inbox.put(Believed(files))

    def begin(self, entry: Entry) -> None:
        """A large file begins; its pieces follow."""
        if self._left:
            self._note_behind(entry.path)
        else:
            self._inbox.put(Begin(entry))

    def piece(self, buffer: Lent, count: int, *, hole: bool = False) -> None:
        """The next piece of the large file; releases the buffer when done. hole: zeros that the card does not keep"""
        if self._left:
            buffer.release()
        else:
            self._add_buffer(Piece(buffer, count, hole))

    def batch(self, buffer: Lent, files: SmallFiles) -> None:
        """Small files that are in a buffer, whole. Releases it when done."""
        if self._left:
            self._pass_by(Batch(buffer, files))
            buffer.release()
        else:
            self._add_buffer(Batch(buffer, files))

    def end(self, read: FileRead) -> None:
        """The large file has been read whole, and this came of it."""
        if not self._left:
            self._inbox.put(End(read))

    def give_up(self, reason: str) -> None:
        """The large file could not be read to its end: nothing of it is to stay."""
        if not self._left:
            self._inbox.put(Give(reason))

    def withdraw(self, path: str, reason: str) -> None:
        """The card gave other bytes when it was read again: what was made of the first ones is not to stay."""
        self._inbox.put(Withdraw(self._path(path), path, reason))

    def finish(self, folders: Sequence[tuple[str, int | None]]) -> None:
        """Say that nothing more comes, and which folders are to be settled. Call `wait` afterwards."""
        self._inbox.put(Finish(tuple(folders)))

    def leave_behind(self) -> None:
        """Take no more bytes, also none of those that wait; the reader goes on without this store.

        Called by the reader's own thread. A file under way is dropped when the store answers again.
        """
        self._left = True
        to_keep = []
        with contextlib.suppress(queue.Empty):
            while True:
                message = self._inbox.get_nowait()
                if isinstance(message, Withdraw | Believed):
                    to_keep.append(message)
                self._pass_by(message)
                self._let_go(message)
        for message in to_keep:
            self._inbox.put(message)

    def _pass_by(self, message: "Message") -> None:
        if isinstance(message, Begin):
            self._note_behind(message.entry.path)
        elif isinstance(message, Batch):
            for small in message.files:
                self._note_behind(small.entry.path)

    def _note_behind(self, path: str) -> None:
        self._proving.result.behind.add(path)
        self._proving.fail(path, StoreError(_LEFT.format(self.name)))

    def wait(self, silent_s: float) -> None:
        """Wait for the end, or until the store has done nothing at all for so many seconds."""
        seen, since = -1, time.monotonic()
        for thread in self._threads:
            while thread.is_alive():
                thread.join(0.5)
                if self._proving.beats != seen:
                    seen, since = self._proving.beats, time.monotonic()
                elif time.monotonic() - since > silent_s:
                    self._abandon(silent_s)
                    return

    def _abandon(self, silent_s: float) -> None:
        """What the threads find out later is not heard any more."""
        so_far = self._proving.result
        self._abandoned = dataclasses.replace(
            so_far, agreed=self._proving.agreed.copy(), failed=list(so_far.failed), behind=set(so_far.behind)
        )
        self._abandoned.settled = False
        self._progress.trouble = _SILENT.format(self.name, silent_s)

    @property
    def silence(self) -> str | None:
        """Why it was abandoned, if it was."""
        return self._progress.trouble if self._abandoned else None

    def close(self) -> None:
        """End the store's run, unless it was abandoned: then it may hang for ever."""
        if not self._abandoned:
            self._store.close()

    # The writing thread

    def _add_buffer(self, message: "Piece | Batch") -> None:
        with self._lock:
            self._backlog += 1
        self._inbox.put(message)

    def _open(self) -> None:
        try:
            self._store.open(self._turns)
            self._store.begin(self.folder)
        except Exception as error:  # as below
            self._proving.stopped = as_store_error(error)
        if self._memory and not self._proving.stopped:
            known = self._memory.recall()
            self._proving.known = {path: one for path, one in known.items() if one.kept == self._path(path)}
        self._ready.set()

    def _write_all(self) -> None:
        self._open()
        while not isinstance(message := self._inbox.get(), Finish):
            try:
                self._handle(message)
            except Exception as error:  # whatever it is, it must be told as a failure and not lose the lane
                self._drop_file(as_store_error(error))
            finally:
                self._let_go(message)
            if self._group and time.monotonic() - self._group_began > _TOGETHER_S:
                self._hand_over()
        if self._file:
            self._end_early(self._file)
        self._hand_over()
        self._proving.put(message)

    def _end_early(self, file: "_Writing") -> None:
        if self._left:
            self._note_behind(file.entry.path)
        self._drop_file(RaftError("the run ended before this file was read"))

    def _let_go(self, message: Message) -> None:
        self._proving.beats += 1
        if isinstance(message, Piece | Batch):
            message.buffer.release()
            with self._lock:
                self._backlog -= 1

    def _handle(self, message: Message) -> None:
        if isinstance(message, Withdraw):
            self._hand_over()
            self._proving.put(message)
        elif isinstance(message, Believed):
            self._take_believed(message)
        elif self._left:
            self._pass_by(message)  # taken from the queue while it was being emptied: parts of a file are no file
        else:
            self._take(message)

    def _take(self, message: Message) -> None:
        match message:
            case Batch():
                self._take_small(message)
            case Begin():
                self._forget_attempt()
                self._file = _Writing(message.entry)
                self._require_usable()
                self._file.pending = self._begin_writing(message.entry)
            case _ if self._file is None:
                return  # this file has failed here; the rest of it passes by
            case Piece():
                self._write(self._file, message)
            case End():
                self._end_writing(self._file, message.read)
            case Give():
                self._drop_file(RaftError(message.reason))

    def _take_believed(self, message: Believed) -> None:
        if stopped := self._proving.stopped:
            for entry in message.files:
                self._proving.fail(entry.path, stopped)
            return
        self._progress.written += sum(entry.size for entry in message.files)
        self._proving.put(message)

    def _require_usable(self) -> None:
        if self._proving.stopped:
            raise self._proving.stopped

    def _take_small(self, batch: Batch) -> None:
        """Write a batch; what goes wrong with one of its files leaves the others as they are."""
        going, to_write = list[SmallFile](), list[Whole]()
        for small in batch.files:
            entry, path = small.entry, self._path(small.entry.path)
            try:
                self._require_usable()
                if self._stands_there(entry, path):
                    self._add_small(small, None)
                    continue
            except Exception as error:  # as above
                self._proving.fail(entry.path, as_store_error(error))
                continue
            going.append(small)
            data = batch.buffer.view[small.start : small.start + entry.size]
            to_write.append(Whole(path, data, self._time(entry), entry.mode))
        try:
            written = self._store.write_whole(to_write)
        except Exception as error:
            written = [as_store_error(error)] * len(going)
        for small, outcome in zip(going, written, strict=True):
            if isinstance(outcome, StoreError):
                self._proving.fail(small.entry.path, outcome)
            else:
                self._add_small(small, outcome)

    def _add_small(self, small: SmallFile, pending: PendingFile | None) -> None:
        self._progress.written += small.entry.size
        self._join_group(small.entry, small.read, pending)

    def _stands_there(self, entry: Entry, path: str) -> bool:
        """Whether a file of this name and size is there: it is left alone and judged by reading it. Raises Conflict."""
        there = self._store.found(path)
        if there is None:
            return False
        if there.is_file and there.size == entry.size:
            return True
        what = f"another file of {there.size:,} bytes" if there.is_file else "something that is not a file"
        raise Conflict(
            f"{what} is under this name on '{self._store.name}' (the card's has {entry.size:,} bytes); "
            "it was left alone: move it away and run again"
        )

    def _begin_writing(self, entry: Entry) -> PendingFile | None:
        path = self._path(entry.path)
        return None if self._stands_there(entry, path) else self._store.write(path, entry.size, entry.mode)

    def _forget_attempt(self) -> None:
        """The card did not give the file whole, and it is tried again from its start."""
        if self._file:
            if self._file.pending:
                self._file.pending.discard()
            self._progress.written -= self._file.written

    def _write(self, file: "_Writing", piece: Piece) -> None:
        if file.pending and piece.hole:
            file.pending.skip(piece.count)
        elif file.pending:
            file.pending.write(piece.buffer.view[: piece.count])
        file.written += piece.count
        self._progress.written += piece.count

    def _end_writing(self, file: "_Writing", read: FileRead) -> None:
        if file.written != file.entry.size:
            raise StoreError("not all of it came to this store")
        if file.pending:
            file.pending.end(self._time(file.entry))
        self._file = None
        self._join_group(file.entry, read, file.pending)

    def _join_group(self, entry: Entry, read: FileRead, pending: PendingFile | None) -> None:
        if not self._group:
            self._group_began = time.monotonic()
        self._group.append(Written(self._path(entry.path), entry, read, pending))
        self._group_bytes += entry.size
        if len(self._group) >= _TOGETHER_FILES or self._group_bytes >= _TOGETHER_BYTES:
            self._hand_over()

    def _hand_over(self) -> None:
        if self._group:
            self._proving.put(self._group)
        self._group, self._group_bytes = [], 0

    def _drop_file(self, error: RaftError) -> None:
        if self._file:
            if self._file.pending:
                self._file.pending.discard()
            self._proving.fail(self._file.entry.path, error)
            self._file = None

    def _time(self, entry: Entry) -> int:
        return self._times.get(entry.path, entry.modified_ns)

    def _path(self, path: str) -> str:
        return beneath(self.folder, self._kept_as.get(path, path))


@dataclass
class _Writing:
    entry: Entry
    pending: PendingFile | None = None
    written: int = 0
