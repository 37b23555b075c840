"""Reading a copy again and comparing it with what was recorded."""

from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from ..errors import StoreError, StoreVanished
from ..evidence import Evidence, Result
from ..files.medium import LARGE
from ..hashing import Algorithm
from ..sources import to_ledger
from ..stores.port import Data, Store, ToRead, beneath
from .capped import RateCap
from .looking_for import look_for
from .progress import Progress, StoreProgress, ticking
from .proving import result_of
from .report import FileFailure


@dataclass(frozen=True)
class ToCheck:
    """A file of a copy: how many bytes it should have, and the checksum that its content had on the card."""

    size: int
    checksum: str


@dataclass
class CheckReport:
    """agreed: files read from the store that have their recorded checksum. failed: every other one, with the reason.

    elsewhere: where on the store files that are missing lie under another name; they failed all the same
    cancelled: it was stopped before all was read; files that were not reached stand in neither
    """

    agreed: set[str] = field(default_factory=set)
    failed: list[FileFailure] = field(default_factory=list)
    level: Evidence = Evidence.READ_BACK
    elsewhere: dict[str, str] = field(default_factory=dict)
    cancelled: bool = False


class _Stopped(Exception):
    """Somebody wants the check to stop; leaves a file that is half read."""


def check_copy(
    store: Store,
    folder: str,
    files: Mapping[str, ToCheck],
    algorithm: Algorithm,
    *,
    cap: RateCap | None = None,
    on_progress: Callable[[Progress], None] = lambda progress: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> CheckReport:
    """Read every file in `files` (by path inside `folder`) from the store, past the caches.

    cap: how fast it may be read
    on_progress: called a few times a second, from another thread. cancelled: asked between pieces
    Raises StoreVanished: a store that went away says nothing about its files.
    """
    progress, cap = _progress(store, files.values()), cap or RateCap(None)
    check = _Check(store, folder, algorithm, progress.stores[0], progress, cap, cancelled)
    with ticking(on_progress, progress):
        try:
            for batch in _batches(files):
                check.files(batch)
            _look_for_the_missing(store, folder, files, algorithm, check.report, cap, cancelled)
        except _Stopped:
            check.report.cancelled = True
    return check.report


_SIDE_BY_SIDE = 128
"""Small files that are read at a time, and judged together."""


def _batches(files: Mapping[str, ToCheck]) -> Iterator[Sequence[tuple[str, ToCheck]]]:
    """In the order of their paths: each large file by itself, small ones together."""
    small: list[tuple[str, ToCheck]] = []
    for path, file in sorted(files.items()):
        if small and (file.size >= LARGE or len(small) >= _SIDE_BY_SIDE):
            yield small
            small = []
        if file.size >= LARGE:
            yield [(path, file)]
        else:
            small.append((path, file))
    if small:
        yield small


def _look_for_the_missing(
    store: Store, folder: str, files: Mapping[str, ToCheck], algorithm: Algorithm, report: CheckReport, cap: RateCap,
    cancelled: Callable[[], bool],
) -> None:  # fmt: skip
    missing = {one.path: files[one.path] for one in report.failed if one.found is Result.ABSENT}
    if not missing:
        return

    def _hold_back(data: Data) -> None:
        if cancelled():
            raise _Stopped
        cap.spend(len(data))

    wanted = {path: (file.size, file.checksum) for path, file in missing.items()}
    report.elsewhere = look_for(store, folder, wanted, files, algorithm, _hold_back)
    report.failed = [
        replace(one, reason=f"{one.reason}; its content is there as {to_ledger(report.elsewhere[one.path])}")
        if one.path in report.elsewhere
        else one
        for one in report.failed
    ]


def _progress(store: Store, files: Collection[ToCheck]) -> Progress:
    total = sum(file.size for file in files)
    return Progress(total, len(files), stores=[StoreProgress(store.name, written=total)])


@dataclass
class _Check:
    """One copy's. seen: the store's own progress"""

    store: Store
    folder: str
    algorithm: Algorithm
    seen: StoreProgress
    progress: Progress
    cap: RateCap
    cancelled: Callable[[], bool]
    report: CheckReport = field(default_factory=CheckReport)

    def files(self, batch: Sequence[tuple[str, ToCheck]]) -> None:
        """Raises StoreVanished, _Stopped."""
        if self.cancelled():
            raise _Stopped
        before = self.seen.verified
        if len(batch) == 1:
            self._one(*batch[0])
        else:
            self._small(batch)
        self.progress.read = self.seen.verified = before + sum(file.size for _, file in batch)

    def _small(self, batch: Sequence[tuple[str, ToCheck]]) -> None:
        digests: dict[int, str] = {}

        def _consume(index: int, data: Data) -> None:
            if self.cancelled():
                raise _Stopped
            hasher = self.algorithm.start()
            hasher.update(data)
            digests[index] = hasher.hexdigest()
            self.cap.spend(len(data))
            self.progress.read = self.seen.verified = self.seen.verified + batch[index][1].size

        wanted = [ToRead(beneath(self.folder, path), file.size) for path, file in batch]
        levels = self.store.read_back_small(wanted, _consume)
        for index, ((path, file), level) in enumerate(zip(batch, levels, strict=True)):
            if isinstance(level, StoreError):
                self._failed(path, level)
            else:
                self._judge(path, file, digests.get(index, ""), level)

    def _one(self, path: str, file: ToCheck) -> None:
        hasher = self.algorithm.start()
        most = self.seen.verified + file.size

        def _consume(data: Data) -> None:
            if self.cancelled():
                raise _Stopped
            hasher.update(data)
            self.cap.spend(len(data))
            self.seen.verified = min(self.seen.verified + len(data), most)

        try:
            level = self.store.read_back(beneath(self.folder, path), _consume)
        except StoreError as error:
            self._failed(path, error)
        else:
            self._judge(path, file, hasher.hexdigest(), level)

    def _failed(self, path: str, error: StoreError) -> None:
        if isinstance(error, StoreVanished):
            raise error
        self.report.failed.append(FileFailure(path, error.sentence, result_of(error)))

    def _judge(self, path: str, file: ToCheck, digest: str, level: Evidence) -> None:
        if digest == file.checksum:
            self.report.agreed.add(path)
            self.report.level = min(self.report.level, level)
            return
        reason = f"its content on '{self.store.name}' is not what was read off the card"
        self.report.failed.append(FileFailure(path, reason, Result.DIFFERS))
