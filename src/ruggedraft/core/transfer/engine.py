"""The run: one pass over the card, every byte handed to all lanes, everything proven before it is claimed."""

import threading
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager

from ..cards.listing import Entry, EntryKind, Listing
from ..cards.source import CardSource, OpenFile
from ..errors import SourceChanged, SourceError, SourceUnreadable, SourceVanished
from ..hashing import Algorithm
from .lane import Lane, Target
from .progress import Progress, StoreProgress
from .report import FileFailure, FileRead, TransferReport

__all__ = ["Target", "transfer"]

CHUNK = 1 << 20  # bytes
_ATTEMPTS = 3
"""How often a file of the card is tried that does not read."""
_TICK = 0.25  # seconds between progress reports

_CANCELLED = "the run was cancelled before this file"
_ODD = {
    EntryKind.LINK: "it is a link (to {detail}); links are not followed and not copied",
    EntryKind.SPECIAL: "it is neither a file nor a folder; it cannot be copied",
    EntryKind.UNREADABLE: "this folder could not be listed ({detail}); what is in it is not known",
}


def transfer(
    source: CardSource,
    listing: Listing,
    targets: Sequence[Target],
    algorithm: Algorithm,
    *,
    kept_as: Mapping[str, str] | None = None,
    expected: Mapping[str, str] | None = None,
    on_progress: Callable[[Progress], None] = lambda progress: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> TransferReport:
    """Copy what a listing names from a card to every target, and prove it.

    Never raises for trouble with the card or a store: the report names every file that is not safe, and where.
    A store's `verified` is true only if each file of the listing was read from it past the caches and agrees with
    what the card gave in this very run.

    kept_as: the path inside a target's folder by the path on the card, for files that are not kept under their own
    expected: checksums the card's files had when they were read before; other bytes now are a failure
    on_progress: called about four times a second from a thread of its own, and once at the end
    cancelled: asked between chunks
    """
    progress = Progress(listing.bytes, len(listing.files), stores=[StoreProgress(t.store.name) for t in targets])
    asked = len(listing.files)
    kept_as = kept_as or {}
    lanes = [
        Lane(target, asked, algorithm, tally, kept_as) for target, tally in zip(targets, progress.stores, strict=True)
    ]
    run = _Run(source, algorithm, lanes, progress, expected or {}, cancelled)
    with _ticking(on_progress, progress):
        for lane in lanes:
            lane.start()
        try:
            run.read_all(listing.files)
        finally:
            for lane in lanes:
                lane.finish()
            for lane in lanes:
                lane.wait()
        _settle(lanes, _folders(listing, kept_as))
    return run.report(listing)


class _Run:
    def __init__(
        self,
        source: CardSource,
        algorithm: Algorithm,
        lanes: Sequence[Lane],
        progress: Progress,
        expected: Mapping[str, str],
        cancelled: Callable[[], bool],
    ) -> None:
        self._source, self._algorithm, self._lanes = source, algorithm, lanes
        self._progress, self._expected, self._cancelled = progress, expected, cancelled
        self._read: dict[str, FileRead] = {}
        self._unread: list[FileFailure] = []
        self._gone: SourceVanished | None = None
        self._was_cancelled = False

    def read_all(self, files: Sequence[Entry]) -> None:
        for entry in files:
            self._was_cancelled = self._was_cancelled or self._cancelled()
            if self._was_cancelled:
                self._unread.append(FileFailure(entry.path, _CANCELLED))
            elif self._gone:
                self._unread.append(FileFailure(entry.path, self._gone.sentence))
            else:
                self._read_one(entry)

    def _read_one(self, entry: Entry) -> None:
        try:
            checksum = self._read_persistently(entry)
        except (SourceError, _Cancelled) as error:
            if isinstance(error, SourceVanished):
                self._gone = error
            reason = error.sentence if isinstance(error, SourceError) else _CANCELLED
            self._unread.append(FileFailure(entry.path, reason))
            for lane in self._lanes:
                lane.give_up(reason)
            return
        self._read[entry.path] = FileRead(entry.size, entry.modified_ns, checksum)
        for lane in self._lanes:
            lane.end(checksum)

    def _read_persistently(self, entry: Entry) -> str:
        """A sector that did not read may read the next time. What was written of an attempt that failed is dropped."""
        for attempt in range(_ATTEMPTS):
            for lane in self._lanes:
                lane.begin(entry)
            before = self._progress.read
            try:
                return self._stream(entry)
            except SourceUnreadable:
                if attempt == _ATTEMPTS - 1 or self._cancelled():
                    raise
                self._progress.read = before
        raise AssertionError  # the last attempt has raised

    def _stream(self, entry: Entry) -> str:
        """Hand one file to every lane; returns its checksum. Raises SourceError, after which lanes must give up."""
        file = self._source.open(entry.path)
        try:
            _require_same(file, entry)
            hasher = self._algorithm.start()
            count = 0
            while data := file.read(CHUNK):
                if self._cancelled():
                    self._was_cancelled = True
                    raise _Cancelled
                hasher.update(data)
                for lane in self._lanes:
                    lane.chunk(data)
                count += len(data)
                self._progress.read += len(data)
            if count != entry.size:
                raise SourceChanged(f"the card gave {count:,} bytes of {entry.size:,}; nothing of it was kept")
            _require_same(file, entry)
        finally:
            file.close()
        checksum = hasher.hexdigest()
        if self._expected.get(entry.path, checksum) != checksum:
            raise SourceChanged(
                "the card gave other bytes than when it was read before, at the same size and time: "
                "do not clear it, try another reader"
            )
        return checksum

    def report(self, listing: Listing) -> TransferReport:
        odd = [FileFailure(entry.path, _ODD[entry.kind].format(detail=entry.detail)) for entry in listing.odd]
        for lane in self._lanes:
            told = {failure.path for failure in lane.result.failed}
            lane.result.failed += [failure for failure in (*odd, *self._unread) if failure.path not in told]
            lane.close()
        return TransferReport(self._read, [*odd, *self._unread], [ln.result for ln in self._lanes], self._was_cancelled)


class _Cancelled(Exception):
    pass


def _require_same(file: OpenFile, entry: Entry) -> None:
    if file.size_and_time() != (entry.size, entry.modified_ns):
        raise SourceChanged(
            "it is not the file that was listed any more: its size or time changed; list the card again"
        )


def _folders(listing: Listing, kept_as: Mapping[str, str]) -> dict[str, int | None]:
    """The folders a copy has, with the times they get. Where names lead elsewhere, the card's own mean nothing."""
    times = {entry.path: entry.modified_ns for entry in listing.folders}
    found: dict[str, int | None] = {} if any(path != to for path, to in kept_as.items()) else dict(times)
    for entry in listing.files:
        path = kept_as.get(entry.path, entry.path)
        while "/" in path and (path := path.rpartition("/")[0]) not in found:
            found[path] = times.get(path)
    return found


def _settle(lanes: Sequence[Lane], folders: Mapping[str, int | None]) -> None:
    """Deepest folders first, because a folder's time changes when something is made in it."""
    deepest_first = sorted(folders, key=lambda path: (-path.count("/"), path))
    for lane in lanes:
        base = lane.result.folder
        parents = [base.rsplit("/", n)[0] for n in range(base.count("/") + 1)]
        lane.settle([(f"{base}/{path}", folders[path]) for path in deepest_first])
        lane.settle([(folder, None) for folder in parents])


@contextmanager
def _ticking(on_progress: Callable[[Progress], None], progress: Progress) -> Iterator[None]:
    done = threading.Event()

    def tick() -> None:
        while not done.wait(_TICK):
            on_progress(progress)

    ticker = threading.Thread(target=tick, name="progress", daemon=True)
    ticker.start()
    try:
        yield
    finally:
        done.set()
        ticker.join()
        on_progress(progress)
