"""What a run wants of a card and where it is to go, and whether a file of the card is what it was."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from ..errors import SourceChanged, SourceError
from ..hashing import Algorithm
from ..sources.fingerprint import read_fingerprint
from ..sources.listing import Entry
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
    """

    files: Sequence[Entry]
    algorithms: Sequence[Algorithm]
    expected: Mapping[str, str] = field(default_factory=dict)
    recorded: Mapping[str, tuple[Algorithm, str]] = field(default_factory=dict)
    cancelled: Callable[[], bool] = lambda: False


@dataclass(frozen=True)
class Target:
    """A folder (relative, not empty) of a store that a run writes to.

    memory: by which what an earlier part of the run has proven there may be believed; None: nothing is
    """

    store: Store
    folder: str
    memory: Memory | None = None


def is_still(source: CardSource, asked: Asked, entry: Entry, read: FileRead) -> bool:
    """Whether a file of the card is the one that was read: by size, time, fingerprint and what else is known of it.

    No where that cannot be told: then it is read, and whatever is wrong shows.
    """
    if (entry.size, entry.modified_ns) != (read.size, read.modified_ns):
        return False
    if asked.expected.get(entry.path, read.checksum) != read.checksum:
        return False
    if entry.path in asked.recorded and not _is_recorded(asked, entry.path, read):
        return False
    try:
        file = source.open(entry.path)
        try:
            require_same(file, entry)
            return read_fingerprint(file, entry.size) == read.fingerprint
        finally:
            file.close()
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
