"""The second half of a store's lane: what was written gets its name, is read from the medium, and is compared."""

import queue
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import NamedTuple

from ..errors import Conflict, FileMissing, FileRefused, RaftError, StoreError, StoreStopped
from ..evidence import Evidence, Result
from ..files.medium import LARGE
from ..sources.listing import Entry
from ..stores.port import Data, PendingFile, ToRead
from .asked import LaneWork
from .of_each import PathsAmong
from .progress import StoreProgress
from .remembering import Proven, Remembering
from .report import FileFailure, FileRead, StoreResult

_WAITING_GROUPS = 16
_MOVED = "it agreed when it was read back from '{}', and at the end of the run it was not in its place any more"


class Written(NamedTuple):
    """A file that has ended on the store, or (without `pending`) stood there before. path: on the store.

    read: what was read of it off the card
    """

    path: str
    entry: Entry
    read: FileRead
    pending: PendingFile | None


@dataclass(frozen=True)
class Believed:
    """Files that an earlier part of the run has proven, on every store and of the card."""

    files: Sequence[Entry]


@dataclass(frozen=True)
class Withdraw:
    """A file that is not to stay, by its path on the store and as it was asked for, with the reason."""

    path: str
    asked: str
    reason: str


@dataclass(frozen=True)
class Finish:
    """Nothing more comes. folders: paths on the store with the times to set, deepest first."""

    folders: Sequence[tuple[str, int | None]]


def as_store_error(error: Exception) -> StoreError:
    """An error nobody foresaw is told like any other: nothing may pass for agreement."""
    return error if isinstance(error, StoreError) else StoreError(f"an unforeseen error: {error!r}")


def result_of(error: RaftError) -> Result:
    """What an error says of the file on the store. Most say nothing: it was not written, or not reached."""
    if isinstance(error, FileMissing):
        return Result.ABSENT
    if isinstance(error, Conflict):
        return Result.DIFFERS
    return Result.UNREADABLE if isinstance(error, FileRefused) else Result.UNSPOKEN


class Proving:
    """`run` is a thread's work. Only it adds to what the result claims.

    stopped: why nothing more can be written. beats: grows as long as the store does anything.
    known: what an earlier part of the run has proven there, by path on the card
    """

    def __init__(
        self, work: LaneWork, result: StoreResult, progress: StoreProgress, memory: Remembering | None = None
    ) -> None:
        """result: gets a set of its own of what agreed"""
        self.agreed = result.agreed = PathsAmong(work.files)
        self.result, self.stopped, self.beats = result, None, 0  # type: StoreResult, StoreError | None, int
        self._store, self._algorithm, self._progress = work.target.store, work.algorithms[0], progress
        self._kept_as, self._stood = work.kept_as, PathsAmong(work.files)
        self.known: dict[str, Proven] = {}
        self._memory = memory
        self._levels: dict[str, Evidence] = {}
        self._inbox: queue.Queue[Sequence[Written] | Believed | Withdraw | Finish] = queue.Queue(_WAITING_GROUPS)
        self._told: set[str] = set()
        self._made: set[str] = set()

    def put(self, work: "Sequence[Written] | Believed | Withdraw | Finish") -> None:
        """Waits while much is waiting already."""
        self._inbox.put(work)

    def fail(self, path: str, error: RaftError) -> None:
        """Note that a file is not safe here. A file that is tried again fails once."""
        if isinstance(error, StoreStopped):
            self.stopped = error
        if isinstance(error, StoreError):  # what the card did not give is no trouble of this store
            self._progress.trouble = self._progress.trouble or error.sentence
        if path not in self._told:
            self._told.add(path)
            self.result.failed.append(FileFailure(path, error.sentence, result_of(error)))

    def run(self) -> None:
        """Whatever goes wrong here, the result is not settled, and so nothing is verified."""
        well = True
        while not isinstance(work := self._inbox.get(), Finish):
            well = well and self._survives(partial(self._take, work))
            self.beats += 1
        if well:
            self._survives(partial(self._settle, work.folders))

    def _take(self, work: "Sequence[Written] | Believed | Withdraw") -> None:
        if isinstance(work, Withdraw):
            self._withdraw(work)
        elif isinstance(work, Believed):
            for entry in work.files:
                self._believe(entry, self.known[entry.path])
        else:
            self._prove(work)

    def _survives(self, act: Callable[[], None]) -> bool:
        """After an error that nobody foresaw the queue is emptied all the same, as others wait for room in it."""
        try:
            act()
        except Exception as error:
            self.fail("", as_store_error(error))
            return False
        return True

    def _prove(self, group: Sequence[Written]) -> None:
        named = self._not_known(self._name(group))
        stamps = self._memory.stamps([one.path for one in named]) if self._memory else ()
        self._read_back(self._not_attested(named))
        if self._memory:
            self._memory.note(self._to_note(named, stamps, self._memory.began))

    def _read_back(self, named: Sequence[Written]) -> None:
        small = [written for written in named if written.entry.size < LARGE]
        if small:
            self._prove_small(small)
        for written in named:
            if written.entry.size >= LARGE:
                self._guarded(written, partial(self._prove_large, written))

    def _not_known(self, named: Sequence[Written]) -> list[Written]:
        """Agrees to what stood there, and was proven by an earlier part of the run; returns the others."""
        left = []
        for written in named:
            known = None if written.pending else self.known.get(written.entry.path)
            if known and (known.read, known.kept) == (written.read, written.path):
                self._believe(written.entry, known)
            else:
                left.append(written)
        return left

    def _believe(self, entry: Entry, known: Proven) -> None:
        self.result.since.add(known.began)
        self._progress.recalled += entry.size
        self._agree(Written(known.kept, entry, known.read, None), known.level)

    def _to_note(
        self, named: Sequence[Written], stamps: Sequence[tuple[int, ...] | None], began: str
    ) -> dict[str, Proven]:
        """Of a group what agreed. What the card's own list contradicts has no fingerprint, and is read again."""
        levels, self._levels = self._levels, {}
        return {
            one.entry.path: Proven(one.read, one.path, levels[one.entry.path], began, stamp)
            for one, stamp in zip(named, stamps, strict=True)
            if stamp and one.read.fingerprint and one.entry.path in levels
        }

    def _not_attested(self, files: Sequence[Written]) -> list[Written]:
        """Has the store's server say what it holds, where it can; returns the files that are to be read back."""
        try:
            said = self._store.attested([(one.path, one.read.checksum) for one in files], self._algorithm)
        except Exception as error:  # as below
            for written in files:
                self.fail(written.entry.path, as_store_error(error))
            return []
        self.beats += 1
        for written, agrees in zip(files, said, strict=True):
            if agrees:
                self._agree(written, Evidence.ATTESTED)
            elif agrees is False:
                self._guarded(written, partial(self._disagree, written))
        return [written for written, agrees in zip(files, said, strict=True) if agrees is None]

    def _prove_small(self, files: Sequence[Written]) -> None:
        digests: dict[int, str] = {}

        def take(index: int, data: Data) -> None:
            hasher = self._algorithm.start()
            hasher.update(data)
            digests[index] = hasher.hexdigest()
            self.beats += 1

        try:
            wanted = [ToRead(written.path, written.entry.size) for written in files]
            levels = self._store.read_back_small(wanted, take)
        except Exception as error:  # as below
            levels = [as_store_error(error)] * len(files)
        for index, (written, level) in enumerate(zip(files, levels, strict=True)):
            if isinstance(level, StoreError):
                self.fail(written.entry.path, level)
            elif digests.get(index) == written.read.checksum:
                self._agree(written, level)
            else:
                self._guarded(written, partial(self._disagree, written))

    def _prove_large(self, written: Written) -> None:
        hasher = self._algorithm.start()

        def take(data: Data) -> None:
            hasher.update(data)
            self.beats += 1

        level = self._store.read_back(written.path, take)
        self._judge(written, hasher.hexdigest(), level)

    def _guarded(self, written: Written, act: Callable[[], object]) -> None:
        """Whatever goes wrong here is told as a failure of this file: nothing may pass for agreement."""
        try:
            act()
        except Exception as error:
            self.fail(written.entry.path, as_store_error(error))

    def _name(self, group: Sequence[Written]) -> list[Written]:
        """Give the files their names; returns those that stand under them now."""
        pending = [written for written in group if written.pending]
        try:
            errors = self._store.commit([written.pending for written in pending if written.pending])
        except Exception as error:  # as above
            errors = [as_store_error(error)] * len(pending)
        lost = set()
        for written, failure in zip(pending, errors, strict=True):
            if failure:
                self.fail(written.entry.path, failure)
                lost.add(written.path)
            else:
                self._made.add(written.entry.path)
        self.beats += 1
        return [written for written in group if written.path not in lost]

    def _judge(self, written: Written, checksum: str, level: Evidence) -> None:
        if checksum == written.read.checksum:
            self._agree(written, level)
        else:
            self._disagree(written)

    def _agree(self, written: Written, level: Evidence) -> None:
        asked = written.entry.path
        self.agreed.add(asked)
        self._made.discard(asked)  # one that agreed was made here unless it stood there
        if written.pending is None:
            self._stood.add(asked)
        self.result.already += written.pending is None
        self.result.level = min(self.result.level, level)
        if self._memory:
            self._levels[written.entry.path] = level
        self._progress.verified += written.entry.size
        self._progress.files_verified += 1
        if level < Evidence.ATTESTED:
            self._progress.trouble = self._progress.trouble or "this store cannot be read past this machine's caches"

    def _disagree(self, written: Written) -> None:
        if written.pending is None:
            raise Conflict(
                f"a file of the same size but other content is under this name on '{self._store.name}'; "
                "it was left alone: move it away and run again"
            )
        self._store.withdraw(written.path)
        raise FileMissing(
            f"'{self._store.name}' gave back other bytes than were written to it; the bad file was removed: "
            "run again, and if it happens again do not trust this store"
        )

    def _withdraw(self, work: Withdraw) -> None:
        """Only what this run made itself is removed."""
        made = work.asked in self._made or (work.asked in self.agreed and work.asked not in self._stood)
        self.agreed.discard(work.asked)
        try:
            if made:
                self._store.withdraw(work.path)
        except StoreError as error:
            self.fail(work.asked, error)
        self.fail(work.asked, RaftError(work.reason))

    def _settle(self, folders: Sequence[tuple[str, int | None]]) -> None:
        """Make every folder's entries durable, then look once more that all is in its place."""
        try:
            self._store.settle(folders)
            self.beats += 1
            self._require_in_place()
            self.result.settled = True
        except StoreError as error:
            self.fail("", error)

    def _require_in_place(self) -> None:
        """The plain comparison, names and sizes: a file that agreed may have been moved, cut or removed since."""
        if not self.agreed:
            return
        left, on_card = self.agreed.copy(), {kept: path for path, kept in self._kept_as.items()}
        for path, (size, _) in self._store.each_there(self.result.folder):
            asked = on_card.get(path, path)
            if self._kept_as.get(asked, asked) == path:
                left.discard_of_size(asked, size)
        self.beats += 1
        for asked in left:
            self.agreed.discard(asked)
            self.fail(asked, FileMissing(_MOVED.format(self._store.name)))
