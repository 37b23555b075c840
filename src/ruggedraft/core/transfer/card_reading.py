"""The reader's half of a run: every byte of the card once, into buffers, hashed, and on to every lane."""

import time
from collections.abc import Callable, Mapping, Sequence

from ..errors import SourceChanged, SourceError, SourceUnreadable, SourceVanished
from ..files.medium import LARGE
from ..hashing import Hasher
from ..sources.fingerprint import EndsKept, fingerprint_whole
from ..sources.listing import Entry
from ..sources.packed import Entries
from ..sources.port import CardSource, OpenFile
from ..turns import Turn, Turns
from .any_lane import AnyLane
from .asked import Asked, require_same, still_the_same
from .buffers import Buffer, Pool
from .hashing_aside import HashingAside
from .messages import SmallFile, SmallFiles
from .of_each import Readings
from .opening import close_opened, opened_ahead
from .patience import Patience
from .progress import Progress
from .remembering import known_to_all
from .report import FileFailure, FileRead

_ATTEMPTS = 3
"""How often a file of the card is tried that does not read."""
_BATCH_FILES = 256

CANCELLED = "the run was stopped before this file"
_OTHER_BYTES = (
    "the card gave other bytes than when it was read before, at the same size and time: "
    "do not clear it, try another reader"
)
_OTHER_NOW = (
    "the card gave other bytes when it was read a second time: nothing of it was kept; do not clear it, "
    "try another reader"
)
_DOUBTED = (
    "its {} is {}, but the list that lies on the card says {}: it was copied as the card gives it; "
    "read it in another reader before the card goes"
)


class Cancelled(Exception):
    """Somebody stopped the run; leaves a file that is half read."""


_RECALL_S = 60.0
"""Seconds that stores have to look at what they are known to hold."""


class CardReading:
    """Reads once through a card. What it learns is in `read`, `unread`, `doubted`, `errors` and `was_cancelled`.

    errors: files of which the card gave an error, though it may have given them the next time
    """

    def __init__(
        self,
        source: CardSource,
        asked: Asked,
        lanes: Sequence[AnyLane],
        progress: Progress,
        pool: Pool,
        patience: Patience,
        turns: Turns,
    ) -> None:
        self.read = Readings(asked.files)
        self.unread: list[FileFailure] = []
        self.doubted: list[FileFailure] = []
        self.errors: set[str] = set()
        self.was_cancelled = False
        self._source, self._asked, self._lanes = source, asked, lanes
        self._turn = Turn(turns)
        self._progress, self._pool, self._patience = progress, pool, patience
        self._gone: SourceVanished | None = None
        self._last_try = self._is_doubted = False
        self._hashing = HashingAside()
        self._packed: Buffer | None = None
        self._packed_files: list[SmallFile] = []
        self._packed_bytes = 0

    @property
    def card_gone(self) -> bool:
        """The card left its reader meanwhile, or another one took its place."""
        return self._gone is not None

    def read_all(self) -> None:
        """Read every file once and hand it to the lanes."""
        try:
            for entry, file in opened_ahead(self._source, self._not_believed()):
                self._take(entry, file)
            self._send_packed()
        finally:
            self._turn.give()
            self._hashing.end()

    def _not_believed(self) -> Sequence[Entry]:
        """What is to be read. The rest was proven by an earlier part of the run on every store, and is what it was."""
        known = [(lane, lane.known(_RECALL_S)) for lane in self._lanes]
        proven = known_to_all([there for lane, there in known if lane.usable])
        if proven:
            self._believe(proven)
        if not self.read:
            return self._asked.files
        return [entry for entry in self._asked.files if entry.path not in self.read]

    def _believe(self, proven: Mapping[str, FileRead]) -> None:
        for path in still_the_same(self._source, self._asked, proven):
            self.read[path] = proven[path]
        believed = [entry for entry in self._asked.files if entry.path in self.read]
        for lane in self._lanes:
            lane.believe(believed)
        self._progress.recalled = sum(entry.size for entry in believed)
        self._progress.read += self._progress.recalled

    def read_again(self) -> None:
        """Read what was read a second time, and withdraw every file that was another one then."""
        read = (entry for entry in self._asked.files if entry.path in self.read)
        for entry, file in opened_ahead(self._source, Entries.of(read), past_caches=True):
            if self._stopping():
                self.was_cancelled = self.was_cancelled or not self._gone
                self._doubt(
                    entry, self._gone.sentence if self._gone else "the run was stopped before its second reading"
                )
                close_opened(file)
            elif reason := self._second_look(entry, file):
                self._doubt(entry, reason)

    def _second_look(self, entry: Entry, file: "OpenFile | SourceError | None") -> str:
        """What is wrong with a file now; empty if it is the one that was read."""
        try:
            if self._digest(entry, file) == self.read[entry.path].checksum:
                return ""
            self.errors.add(entry.path)
            return _OTHER_NOW
        except (SourceError, Cancelled) as error:
            self._gone = error if isinstance(error, SourceVanished) else self._gone
            return f"it did not read a second time: {error}" if isinstance(error, SourceError) else CANCELLED

    def _doubt(self, entry: Entry, reason: str) -> None:
        del self.read[entry.path]
        self.unread.append(FileFailure(entry.path, reason))
        for lane in self._lanes:
            lane.withdraw(entry.path, reason)

    def _digest(self, entry: Entry, file: "OpenFile | SourceError | None") -> str:
        hasher = self._asked.algorithms[0].start()
        file = self._really(entry, file)
        try:
            buffer = self._buffer()
        except Cancelled:
            file.close()
            raise
        try:
            file.past_caches()
            while count := self._fill(file, buffer.view):
                hasher.update(buffer.view[:count])
                self._progress.read_again += count
        finally:
            buffer.hold(0)
            file.close()
        return hasher.hexdigest()

    def _stopping(self) -> bool:
        return bool(self._gone) or self._asked.cancelled()

    def _stopped_by(self) -> str | None:
        """Why nothing more is read; None while it goes on."""
        if self.was_cancelled:
            return CANCELLED
        return None if self._gone is None else self._gone.sentence

    def _take(self, entry: Entry, file: "OpenFile | SourceError | None") -> None:
        self.was_cancelled = self.was_cancelled or self._asked.cancelled()
        stopped = self._stopped_by()
        if stopped is not None:
            close_opened(file)
            self._fail(entry, stopped)
            return
        large = entry.size >= LARGE
        if large:
            self._turn.give()
        else:
            self._turn.take()
        try:
            found = self._read_persistently(entry, file, self._stream if large else self._pack)
        except (SourceError, Cancelled) as error:
            self._give_up(entry, error, large=large)
            return
        self.read[entry.path] = found
        if large:
            for lane in self._lanes:
                lane.end(self._to_lanes(found))

    def _give_up(self, entry: Entry, error: "SourceError | Cancelled", *, large: bool) -> None:
        self._gone = error if isinstance(error, SourceVanished) else self._gone
        self.was_cancelled = self.was_cancelled or isinstance(error, Cancelled)
        reason = error.sentence if isinstance(error, SourceError) else CANCELLED
        self._fail(entry, reason)
        if large:
            for lane in self._lanes:
                lane.give_up(reason)

    def _fail(self, entry: Entry, reason: str) -> None:
        self.unread.append(FileFailure(entry.path, reason))

    def _read_persistently(
        self, entry: Entry, file: "OpenFile | SourceError | None", read: "Callable[[Entry, OpenFile], FileRead]"
    ) -> FileRead:
        """A sector that did not read may read the next time. What was written of an attempt that failed is dropped.

        Raises SourceError or Cancelled.
        """
        for attempt in range(1, _ATTEMPTS + 1):
            before = self._progress.read
            try:
                opened = self._really(entry, file)
                if attempt > 1:
                    opened.past_caches()
                self._last_try = attempt == _ATTEMPTS
                return read(entry, opened)
            except SourceUnreadable:
                self.errors.add(entry.path)
                if attempt == _ATTEMPTS or self._asked.cancelled():
                    raise
                self._progress.read, file = before, None
        raise AssertionError  # the last attempt has raised

    def _really(self, entry: Entry, file: "OpenFile | SourceError | None") -> OpenFile:
        if isinstance(file, SourceError):
            raise file
        return file or self._source.open(entry.path)

    def _stream(self, entry: Entry, file: OpenFile) -> FileRead:
        """Hand a large file to every lane, piece by piece. After an error lanes must begin again or give up."""
        for lane in self._lanes:
            lane.begin(entry)
        hashers = self._hashers(entry)
        self._hashing.begin(hashers)
        try:
            require_same(file, entry)
            file.past_caches()
            ends = EndsKept(entry.size, self._asked.fingerprints)
            count = self._pieces(file, ends)
            if count != entry.size:
                raise SourceChanged(f"the card gave {count:,} bytes of {entry.size:,}; nothing of it was kept")
            require_same(file, entry)
        finally:
            self._hashing.wait()
            file.close()
        return self._judged(entry, hashers, ends.fingerprint())

    def _pieces(self, file: OpenFile, ends: EndsKept) -> int:
        in_all, sparse = 0, file.is_sparse()
        while True:
            buffer, count = self._buffer(), 0
            try:
                count = self._fill(file, buffer.view)
            finally:
                if not count:
                    buffer.hold(0)
            if not count:
                return in_all
            buffer.hold(len(self._lanes) + 1)
            ends.update(buffer.view[:count])
            self._hashing.update(buffer, count)
            hole = sparse and bytes(buffer.view[:count]).count(0) == count
            for lane in self._lanes:
                lane.piece(buffer, count, hole=hole)
            self._progress.read += count
            in_all += count

    def _fill(self, file: OpenFile, view: memoryview) -> int:
        """As much as there is; fewer bytes than asked for only at the end."""
        count = 0
        while count < len(view):
            if self._asked.cancelled():
                raise Cancelled
            got = file.read_into(view[count:])
            if not got:
                break
            count += got
        return count

    def _pack(self, entry: Entry, file: OpenFile) -> FileRead:
        """Put a small file beside others in one buffer."""
        try:
            view = self._room_for(entry)
            count = file.read_now(view) if entry.size else 0
            if count < entry.size:
                with self._turn.aside():
                    while more := file.read_into(view[count:]):
                        count += more
            require_same(file, entry)
            if count != entry.size:
                raise SourceChanged(f"the card gave {count:,} bytes of {entry.size:,}; nothing of it was kept")
        finally:
            file.close()
        hashers = self._hashers(entry)
        for hasher in hashers:
            hasher.update(view[:count])
        found = self._judged(entry, hashers, fingerprint_whole(view[:count], self._asked.fingerprints))
        self._packed_files.append(SmallFile(entry, self._packed_bytes, self._to_lanes(found)))
        self._packed_bytes += count
        self._progress.read += count
        if len(self._packed_files) >= _BATCH_FILES:
            self._send_packed()
        return found

    def _room_for(self, entry: Entry) -> memoryview:
        """Where a file may be put, and one byte more, as it may be longer than it says."""
        if self._packed and self._packed_bytes + entry.size + 1 > self._pool.size:
            self._send_packed()
        if self._packed is None:
            self._packed = self._buffer()
        return self._packed.view[self._packed_bytes : self._packed_bytes + entry.size + 1]

    def _send_packed(self) -> None:
        buffer, files = self._packed, self._packed_files
        self._packed, self._packed_files, self._packed_bytes = None, [], 0
        if buffer and not files:
            buffer.hold(0)
        elif buffer:
            buffer.hold(len(self._lanes))
            together = SmallFiles(files)
            for lane in self._lanes:
                lane.batch(buffer, together)
            self._turn.give()

    def _hashers(self, entry: Entry) -> list[Hasher]:
        """One for each algorithm asked for, and one more where the card's own list needs another."""
        algorithms = self._asked.algorithms
        if entry.path in self._asked.recorded:
            algorithms = [*algorithms, self._asked.recorded[entry.path][0]]
        return [algorithm.start() for algorithm in algorithms]

    def _to_lanes(self, read: FileRead) -> FileRead:
        """What the card's own list contradicts is told without a fingerprint, so that nobody notes it as proven."""
        return read._replace(fingerprint="") if self._is_doubted else read

    def _judged(self, entry: Entry, hashers: Sequence[Hasher], fingerprint: str) -> FileRead:
        """What was read. Raises SourceError if its checksums are not what they are known to be."""
        self._is_doubted = False
        found = [hasher.hexdigest() for hasher in hashers]
        if self._asked.expected.get(entry.path, found[0]) != found[0]:
            raise SourceChanged(_OTHER_BYTES)
        if entry.path in self._asked.recorded:
            algorithm, recorded = self._asked.recorded[entry.path]
            if found.pop() != recorded:
                self._contradicted(entry, _DOUBTED.format(algorithm.name, hashers[-1].hexdigest(), recorded))
        return FileRead(entry.size, entry.modified_ns, found[0], tuple(found[1:]), fingerprint)

    def _contradicted(self, entry: Entry, reason: str) -> None:
        """A list that contradicts the card at the last try too is told of, and the file is copied as it is."""
        if not self._last_try:
            raise SourceUnreadable(reason)
        self.doubted.append(FileFailure(entry.path, reason))
        self._is_doubted = True

    def _buffer(self) -> Buffer:
        """An empty buffer; stores that keep it away for too long are left behind. Raises Cancelled."""
        while (buffer := self._wait_for_buffer()) is None:
            if self._asked.cancelled():
                raise Cancelled
        self._patience.went_on()
        return buffer

    def _wait_for_buffer(self) -> Buffer | None:
        buffer = self._pool.take(0.0)
        if buffer:
            return buffer
        self._turn.give()
        started = time.monotonic()
        buffer = self._pool.take(0.25)
        waited = time.monotonic() - started
        if waited > 0.0005:
            for lane in self._patience.holding():
                name = lane.name
                self._progress.waiting_s[name] = self._progress.waiting_s.get(name, 0.0) + waited
            for lane in self._patience.waited(waited):
                lane.leave_behind()
        return buffer
