"""What a copy holds, from everything that was ever read of it."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from ..evidence import Evidence, Result
from .facts import CopyFacts, Reading, StoreFacts


@dataclass(frozen=True)
class TakeTotal:
    """The files of one take that no reading names: they fare alike.

    number: takes of a roll are numbered upwards
    """

    number: int
    files: int
    bytes: int


@dataclass(frozen=True)
class NamedFile:
    """A file that some reading names. key: its number in `Reading.results`."""

    key: int
    take: int
    size: int


def copy_facts(
    store: StoreFacts,
    takes: Iterable[TakeTotal],
    named: Iterable[NamedFile],
    readings: Sequence[Reading],
    *,
    found_after: int = 0,
    looked_at: datetime | None = None,
) -> CopyFacts:
    """Judge every file of a roll on one store.

    A file is held if a reading agrees that began after the last evidence against it was noted. So a reading that began
    before a fault was found cannot mend it, and of two that overlap the worse one stands until a third.

    takes, named: what a whole copy must hold, each file in one of the two
    found_after: the store was lost and found; only readings that began after this evidence was noted count
    """
    held, tally = _Held(), {"files": 0, "bytes": 0, "missing": 0, "missing_bytes": 0, "broken": 0}
    for take in takes:
        if take.files:
            agreeing = [one for one in readings if one.speaks_of_take(take.number) and one.after >= found_after]
            _count(tally, take.files, take.bytes, bool(agreeing))
            held.rest_on(agreeing)
    for file in named:
        agreeing, broken = _of_file(file, readings, found_after)
        _count(tally, 1, file.size, bool(agreeing))
        held.rest_on(agreeing)
        tally["broken"] += broken
    return CopyFacts(
        store, held.proven(), tally["files"], tally["bytes"], tally["missing"], tally["missing_bytes"],
        tally["broken"], looked_at,
    )  # fmt: skip


def _of_file(file: NamedFile, readings: Sequence[Reading], found_after: int) -> tuple[list[Reading], bool]:
    """The readings that a file may rest on; and whether it is known to be broken, if there are none."""
    results = [(one, one.of(file.key, file.take)) for one in readings]
    agrees = [one for one, result in results if result is Result.AGREES]
    last_bad = max((one.seq for one, result in results if result.bad), default=0)
    since = max(last_bad, found_after)
    agreeing = [one for one in agrees if one.after >= since]
    return agreeing, not agreeing and _is_broken(result for _, result in _since_taken_off(results))


_Results = Sequence[tuple[Reading, Result]]
"""What each reading gave of one file, in the order in which they were noted."""


def _since_taken_off(results: _Results) -> _Results:
    """What was noted after it was last taken away there on purpose, and read after that."""
    off = max((one.seq for one, result in results if result is Result.TAKEN_OFF), default=0)
    return [(one, result) for one, result in results if one.seq > off and one.after >= off]


def holds(file: NamedFile, readings: Iterable[Reading], *, found_after: int = 0) -> bool:
    """Whether a copy is known to hold one file, by the same judgement."""
    results = [(one, one.of(file.key, file.take)) for one in readings]
    since = max((one.seq for one, result in results if result.bad), default=0)
    return any(result is Result.AGREES and one.after >= max(since, found_after) for one, result in results)


def in_no_copy(
    takes: Iterable[TakeTotal], named: Iterable[NamedFile], copies: Sequence[tuple[Sequence[Reading], int]]
) -> int:
    """How many files of a roll no copy is known to hold, by the same judgement.

    copies: the readings of each, and its `found_after`; without those on devices that are lost
    """
    bare = sum(take.files for take in takes if not any(_speaks(take, *copy) for copy in copies))
    return bare + sum(not any(holds(file, of, found_after=floor) for of, floor in copies) for file in named)


def _speaks(take: TakeTotal, readings: Iterable[Reading], found_after: int) -> bool:
    return any(one.speaks_of_take(take.number) and one.after >= found_after for one in readings)


def damaged(file: NamedFile, readings: Iterable[Reading]) -> bool:
    """Whether a copy once held a file, and the last that is known of it is that something else or nothing readable is
    under its name.
    """
    results = _since_taken_off([(one, one.of(file.key, file.take)) for one in readings])
    spoken = [result for _, result in results if result is not Result.UNSPOKEN]
    return Result.AGREES in spoken and spoken[-1] in (Result.DIFFERS, Result.UNREADABLE)


def read_back_since(file: NamedFile, readings: Iterable[Reading], since: int, *, found_after: int = 0) -> bool:
    """Whether a copy is known to hold one file, by having been read back after the evidence `since` was noted."""
    read_back = [one for one in readings if one.level >= Evidence.READ_BACK or one.of(file.key, file.take).bad]
    return holds(file, read_back, found_after=max(since, found_after))


def _is_broken(results: Iterable[Result]) -> bool:
    """Damaged, or gone from where it was. A file that never was there is not broken, only missing."""
    spoken = set(results) - {Result.UNSPOKEN}
    bad = {result for result in spoken if result.bad}
    return bool(bad) and (bad != {Result.ABSENT} or Result.AGREES in spoken)


def _count(tally: dict[str, int], files: int, size: int, held: bool) -> None:
    tally["files" if held else "missing"] += files
    tally["bytes" if held else "missing_bytes"] += size


class _Held:
    """The oldest reading that each level rests on, over all files that are held."""

    def __init__(self) -> None:
        self._oldest: list[datetime | None] = [None] * len(Evidence)
        self._lacking = [False] * len(Evidence)

    def rest_on(self, agreeing: Sequence[Reading]) -> None:
        """One more file, or many that fare alike: for each level, its newest reading of at least that level."""
        if not agreeing:
            return
        for level in Evidence:
            newest = max((one.began_at for one in agreeing if one.level >= level), default=None)
            before = self._oldest[level]
            if newest is None:
                self._lacking[level] = True
            elif before is None or newest < before:
                self._oldest[level] = newest

    def proven(self) -> tuple[datetime | None, ...]:
        """By level, the moment since which every file was read at that level; None where one of them never was."""
        return tuple(None if lacking else at for at, lacking in zip(self._oldest, self._lacking, strict=True))
