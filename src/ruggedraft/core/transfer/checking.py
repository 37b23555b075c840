"""Reading a copy again and comparing it with what was recorded."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from ..errors import StoreError, StoreVanished
from ..evidence import Evidence, Result
from ..hashing import Algorithm
from ..stores.port import Store
from .proving import result_of
from .report import FileFailure


@dataclass
class CheckReport:
    """agreed: files read from the store that have their recorded checksum. failed: every other one, with the reason."""

    agreed: set[str] = field(default_factory=set)
    failed: list[FileFailure] = field(default_factory=list)
    level: Evidence = Evidence.READ_BACK


def check_copy(
    store: Store,
    folder: str,
    checksums: Mapping[str, str],
    algorithm: Algorithm,
    *,
    on_file: Callable[[int], None] = lambda done: None,
) -> CheckReport:
    """Read every file in `checksums` (by path inside `folder`) from the store, past the caches.

    Raises StoreVanished: a store that went away says nothing about its files.
    """
    report = CheckReport()
    for done, (path, checksum) in enumerate(sorted(checksums.items())):
        on_file(done)
        hasher = algorithm.start()
        try:
            level = store.read_back(f"{folder}/{path}", hasher.update)
        except StoreVanished:
            raise
        except StoreError as error:
            report.failed.append(FileFailure(path, error.sentence, result_of(error)))
            continue
        if hasher.hexdigest() == checksum:
            report.agreed.add(path)
            report.level = min(report.level, level)
        else:
            reason = f"its content on '{store.name}' is not what was read off the card"
            report.failed.append(FileFailure(path, reason, Result.DIFFERS))
    return report
