"""Reading a copy again and comparing it with what was recorded."""

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field, replace

from ..errors import StoreError, StoreVanished
from ..evidence import Evidence, Result
from ..hashing import Algorithm
from ..sources import to_ledger
from ..stores.port import Data, Store, beneath
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
    report, progress, cap = CheckReport(), _progress(store, files.values()), cap or RateCap(None)
    with ticking(on_progress, progress):
        try:
            for path, file in sorted(files.items()):
                _check(store, folder, path, file, algorithm, report, progress, cap, cancelled)
            _look_for_the_missing(store, folder, files, algorithm, report, cap, cancelled)
        except _Stopped:
            report.cancelled = True
    return report


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


def _check(
    store: Store, folder: str, path: str, file: ToCheck, algorithm: Algorithm, report: CheckReport, progress: Progress,
    cap: RateCap, cancelled: Callable[[], bool],
) -> None:  # fmt: skip
    (seen,) = progress.stores
    hasher = algorithm.start()
    before = seen.verified

    def _consume(data: Data) -> None:
        if cancelled():
            raise _Stopped
        hasher.update(data)
        cap.spend(len(data))
        seen.verified = min(seen.verified + len(data), before + file.size)

    try:
        if cancelled():
            raise _Stopped
        level = store.read_back(beneath(folder, path), _consume)
    except StoreVanished:
        raise
    except StoreError as error:
        report.failed.append(FileFailure(path, error.sentence, result_of(error)))
        return
    finally:
        progress.read = seen.verified = before + file.size
    if hasher.hexdigest() == file.checksum:
        report.agreed.add(path)
        report.level = min(report.level, level)
    else:
        reason = f"its content on '{store.name}' is not what was read off the card"
        report.failed.append(FileFailure(path, reason, Result.DIFFERS))
