"""One store's lane through a run: a thread that writes, and one behind it that reads back."""

import queue
import threading
from collections.abc import Mapping
from dataclasses import dataclass

from ..cards.listing import Entry
from ..errors import Conflict, RaftError, StoreError, StoreStopped, StoreVanished
from ..evidence import Evidence
from ..hashing import Algorithm
from ..stores.port import PendingFile, Store
from .progress import StoreProgress
from .report import FileFailure, StoreResult

_WAITING_CHUNKS = 24
"""Chunks a lane may lag behind the reader: what bounds memory, times the chunk's size, times the lanes."""
_WAITING_FILES = 64


@dataclass(frozen=True)
class Target:
    """A folder (relative, not empty) of a store that a run writes to."""

    store: Store
    folder: str


@dataclass(frozen=True)
class _Begin:
    entry: Entry


@dataclass(frozen=True)
class _End:
    checksum: str


@dataclass(frozen=True)
class _Give:
    """The card did not give this file whole; whatever was written of it is to be dropped."""

    reason: str


@dataclass(frozen=True)
class _ToCheck:
    entry: Entry
    checksum: str
    already: bool


class _Finish:
    pass


class Lane:
    """The reader calls `begin`, `chunk` … and `end` or `give_up` for each file, then `finish`.

    None of them raises because of the store: its trouble ends up in `result`, the other lanes go on.
    """

    def __init__(
        self, target: Target, asked: int, algorithm: Algorithm, progress: StoreProgress, kept_as: Mapping[str, str]
    ) -> None:
        self.result = StoreResult(target.store.name, target.folder, asked)
        self._store, self._folder = target.store, target.folder
        self._algorithm, self._progress, self._kept_as = algorithm, progress, kept_as
        self._inbox: queue.Queue[_Begin | bytes | _End | _Give | _Finish] = queue.Queue(_WAITING_CHUNKS)
        self._to_check: queue.Queue[_ToCheck | _Finish] = queue.Queue(_WAITING_FILES)
        self._stopped: StoreError | None = None
        self._file: _Writing | None = None
        self._threads = [
            threading.Thread(target=self._write_all, name=f"write {target.store.name}", daemon=True),
            threading.Thread(target=self._check_all, name=f"read back {target.store.name}", daemon=True),
        ]

    def start(self) -> None:
        try:
            self._store.open()
        except StoreError as error:
            self._stopped = error
        for thread in self._threads:
            thread.start()

    def begin(self, entry: Entry) -> None:
        self._inbox.put(_Begin(entry))

    def chunk(self, data: bytes) -> None:
        self._inbox.put(data)

    def end(self, checksum: str) -> None:
        self._inbox.put(_End(checksum))

    def give_up(self, reason: str) -> None:
        self._inbox.put(_Give(reason))

    def finish(self) -> None:
        """Say that nothing more comes. Call `wait` afterwards."""
        self._inbox.put(_Finish())

    def wait(self) -> None:
        for thread in self._threads:
            thread.join()

    def settle(self, folders: list[tuple[str, int | None]]) -> None:
        """Make every folder's entries durable; until then nothing in it may be called verified."""
        for folder, modified_ns in folders:
            try:
                self._store.settle(folder, modified_ns)
            except StoreError as error:
                self.result.level = min(self.result.level, Evidence.WRITTEN)
                self._fail(folder, error)
                if isinstance(error, StoreVanished):
                    break

    def close(self) -> None:
        self._store.close()

    # The writing thread

    def _write_all(self) -> None:
        while not isinstance(message := self._inbox.get(), _Finish):
            try:
                self._handle(message)
            except StoreError as error:
                self._drop_file(error)
            except Exception as error:  # whatever it is, it must be told as a failure and not lose the lane
                self._drop_file(StoreError(f"an unforeseen error: {error!r}"))
        if self._file:
            self._drop_file(RaftError("the run ended before this file was read"))
        self._to_check.put(_Finish())

    def _handle(self, message: "_Begin | bytes | _End | _Give") -> None:
        if isinstance(message, _Begin):
            self._forget_attempt()
            self._file = _Writing(message.entry)
            if self._stopped:
                raise self._stopped
            self._file.pending = self._begin_writing(self._file)
        elif self._file is None:
            return  # this file has failed here; the rest of it passes by
        elif isinstance(message, bytes):
            self._write(self._file, message)
        elif isinstance(message, _End):
            self._end_writing(self._file, message.checksum)
        else:
            self._drop_file(RaftError(message.reason))

    def _begin_writing(self, file: "_Writing") -> PendingFile | None:
        """None where a file of this name and size stands: it is left alone and judged by reading it."""
        there = self._store.found(self._path(file.entry))
        if there is None:
            return self._store.write(self._path(file.entry))
        if there.is_file and there.size == file.entry.size:
            return None
        what = f"another file of {there.size:,} bytes" if there.is_file else "something that is not a file"
        raise Conflict(
            f"{what} is under this name on '{self._store.name}' (the card's has {file.entry.size:,} bytes); "
            "it was left alone: move it away and run again"
        )

    def _forget_attempt(self) -> None:
        """The card did not give the file whole, and it is tried again from its start."""
        if self._file:
            if self._file.pending:
                self._file.pending.discard()
            self._progress.written -= self._file.written

    def _write(self, file: "_Writing", data: bytes) -> None:
        if file.pending:
            file.pending.write(data)
        file.written += len(data)
        self._progress.written += len(data)

    def _end_writing(self, file: "_Writing", checksum: str) -> None:
        if file.pending:
            file.pending.commit(file.entry.modified_ns)
        self._to_check.put(_ToCheck(file.entry, checksum, already=file.pending is None))
        self._file = None

    def _drop_file(self, error: RaftError) -> None:
        if self._file:
            if self._file.pending:
                self._file.pending.discard()
            self._fail(self._file.entry.path, error)
            self._file = None

    def _fail(self, path: str, error: RaftError) -> None:
        if isinstance(error, StoreStopped):
            self._stopped = error
        self._progress.trouble = self._progress.trouble or error.sentence
        if all(failure.path != path for failure in self.result.failed[-1:]):  # a file that is tried again fails once
            self.result.failed.append(FileFailure(path, error.sentence))

    def _path(self, entry: Entry) -> str:
        return f"{self._folder}/{self._kept_as.get(entry.path, entry.path)}"

    # The reading-back thread

    def _check_all(self) -> None:
        while not isinstance(item := self._to_check.get(), _Finish):
            try:
                self._check(item)
            except StoreError as error:
                self._fail(item.entry.path, error)
            except Exception as error:  # as above: nothing that goes wrong here may pass for agreement
                self._fail(item.entry.path, StoreError(f"an unforeseen error: {error!r}"))

    def _check(self, item: _ToCheck) -> None:
        hasher = self._algorithm.start()
        level = self._store.read_back(self._path(item.entry), hasher.update)
        if hasher.hexdigest() != item.checksum:
            self._disagree(item)
            return
        self.result.agreed.add(item.entry.path)
        self.result.already += item.already
        self.result.level = min(self.result.level, level)
        self._progress.verified += item.entry.size
        self._progress.files_verified += 1
        if level < Evidence.READ_BACK:
            self._progress.trouble = self._progress.trouble or "this store cannot be read past this machine's caches"

    def _disagree(self, item: _ToCheck) -> None:
        if item.already:
            raise Conflict(
                f"a file of the same size but other content is under this name on '{self._store.name}'; "
                "it was left alone: move it away and run again"
            )
        self._store.withdraw(self._path(item.entry))
        raise StoreError(
            f"'{self._store.name}' gave back other bytes than were written to it; the bad file was removed: "
            "run again, and if it happens again do not trust this store"
        )


@dataclass
class _Writing:
    entry: Entry
    pending: PendingFile | None = None
    written: int = 0
