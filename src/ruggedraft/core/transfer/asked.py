"""What a run wants of a card and where it is to go, and whether a file of the card is what it was."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import ExitStack
from dataclasses import dataclass, field

from ..errors import SourceChanged, SourceError
from ..hashing import Algorithm
from ..sources.fingerprint import FingerprintKind, ask_for_ends, read_fingerprint
from ..sources.listing import Entry
from ..sources.packed import Entries
from ..sources.port import CardSource, OpenFile
from ..stores.port import Store
from .remembering import Memory
from .report import FileRead


@dataclass(frozen=True)
class Asked:
    """What a run wants of a card.

    algorithms: the first is what copies are compared by; the others are noted
    expected: checksums (of the first) the files had when they were read before; other bytes now are a failure
    recorded: checksums by path that the card's own lists hold: (algorithm, hexadecimal)
    fingerprints: the kind that is taken
    """

    files: Entries
    algorithms: Sequence[Algorithm]
    expected: Mapping[str, str] = field(default_factory=dict)
    recorded: Mapping[str, tuple[Algorithm, str]] = field(default_factory=dict)
    cancelled: Callable[[], bool] = lambda: False
    fingerprints: FingerprintKind = FingerprintKind.XXH3


@dataclass(frozen=True)
class Target:
    """A folder (relative, not empty) of a store that a run writes to.

    memory: by which what an earlier part of the run has proven there may be believed; None: nothing is
    """

    store: Store
    folder: str
    memory: Memory | None = None


@dataclass(frozen=True)
class LaneWork:
    """What a lane is to do. files: those that may come

    algorithms: the first is what is compared; the others are noted
    kept_as: the path inside the target's folder by the path on the card, for files that are not kept under their own
    times: modification times in ns that copies get, by path on the card, where the card's are not the true ones
    """

    target: Target
    files: Entries
    algorithms: Sequence[Algorithm]
    kept_as: Mapping[str, str]
    times: Mapping[str, int]


def still_the_same(source: CardSource, asked: Asked, read: Mapping[str, FileRead]) -> Iterator[str]:
    """Paths of files of the card that are the ones that were read: by size, time, fingerprint and what else is known.

    Where that cannot be told a file is none of them: then it is read, and whatever is wrong shows.
    """
    likely = [one for one in asked.files if one.path in read and _may_be(asked, one, read[one.path])]
    for start in range(0, len(likely), _AHEAD):
        with ExitStack() as opened:  # the card is asked for all of them before it has to give the first
            files = [_opened(source, entry, opened) for entry in likely[start : start + _AHEAD]]
            for entry, file in zip(likely[start : start + _AHEAD], files, strict=True):
                if asked.cancelled():
                    return
                if file is not None and _has_fingerprint(file, entry, read[entry.path].fingerprint, asked):
                    yield entry.path


_AHEAD = 32


def _may_be(asked: Asked, entry: Entry, read: FileRead) -> bool:
    if (entry.size, entry.modified_ns) != (read.size, read.modified_ns):
        return False
    if asked.expected.get(entry.path, read.checksum) != read.checksum:
        return False
    return entry.path not in asked.recorded or _is_recorded(asked, entry.path, read)


def _opened(source: CardSource, entry: Entry, opened: ExitStack) -> OpenFile | None:
    try:
        file = source.open(entry.path)
    except SourceError:
        return None
    opened.callback(file.close)
    ask_for_ends(file, entry.size)
    return file


def _has_fingerprint(file: OpenFile, entry: Entry, fingerprint: str, asked: Asked) -> bool:
    try:
        require_same(file, entry)
        return read_fingerprint(file, entry.size, asked.fingerprints) == fingerprint
    except SourceError:
        return False


def _is_recorded(asked: Asked, path: str, read: FileRead) -> bool:
    """Whether the card's own list says the same of it, as far as that can be told without reading it."""
    algorithm, recorded = asked.recorded[path]
    sums = zip(asked.algorithms, (read.checksum, *read.others), strict=True)
    return any(one.name == algorithm.name and checksum == recorded for one, checksum in sums)


def require_same(file: OpenFile, entry: Entry) -> None:
    """Raises SourceChanged where an open file has another size or time than was listed."""
    if file.size_and_time() != (entry.size, entry.modified_ns):
        raise SourceChanged(
            "it is not the file that was listed any more: its size or time changed; list the card again"
        )
