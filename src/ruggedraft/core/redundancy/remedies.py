"""What would it take: the least work that satisfies a rule."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from itertools import combinations

from .facts import CopyFacts, RollFacts, Rule, StoreFacts
from .verdict import counts, judge_roll

_MOST_STEPS = 6
_MOST_CANDIDATES = 14
"""Bounds of the search: 2^14 subsets. Beyond that many stores, those with the most room are tried."""


@dataclass(frozen=True)
class Step:
    """`copy`: a new copy on this store; `mend`: bring what is missing or broken there; `check`: read it again."""

    act: str
    store: str
    bytes: int
    files: int = 0

    @property
    def sentence(self) -> str:
        if self.act == "copy":
            return f"copy it to '{self.store}', which has room"
        if self.act == "mend":
            return f"mend {self.files:,} {'file' if self.files == 1 else 'files'} on '{self.store}'"
        return f"check the copy on '{self.store}'"


@dataclass(frozen=True)
class Remedy:
    steps: tuple[Step, ...]


def what_would_it_take(roll: RollFacts, stores: Iterable[StoreFacts], rule: Rule, now: datetime) -> Remedy | None:
    """The steps, or None if no combination of reachable stores would do.

    Fewest new copies first; among equals, least bytes to move; then most free room left. A roll whose rule is met
    needs no steps.
    """
    candidates = _candidates(roll, stores, rule, now)
    best: tuple[tuple[int, int, int, int], tuple[Step, ...]] | None = None
    for size in range(min(_MOST_STEPS, len(candidates)) + 1):
        for chosen in combinations(candidates, size):
            if not _would_do(roll, chosen, rule, now):
                continue
            cost = _cost(chosen)
            if best is None or cost < best[0]:
                best = (cost, tuple(step for step, _ in chosen))
    return Remedy(best[1]) if best else None


_Candidate = tuple[Step, CopyFacts]
"""A step, and the copy there would be after it."""


def _candidates(roll: RollFacts, stores: Iterable[StoreFacts], rule: Rule, now: datetime) -> list[_Candidate]:
    found = [_repair(copy, rule, now) for copy in roll.copies if _repairable(copy, rule, now)]
    taken = {copy.store.name for copy in roll.copies}
    free = [s for s in stores if s.name not in taken and s.counts and s.online and not s.lost and s.free >= roll.bytes]
    free.sort(key=lambda store: -store.free)
    for store in free:
        found.append((Step("copy", store.name, roll.bytes), CopyFacts(store, rule.level, now)))
    return found[:_MOST_CANDIDATES]


def _repairable(copy: CopyFacts, rule: Rule, now: datetime) -> bool:
    usable = copy.store.counts and copy.store.online and not copy.store.lost
    return usable and not counts(copy, rule, now) and copy.store.free >= copy.missing_bytes


def _repair(copy: CopyFacts, rule: Rule, now: datetime) -> _Candidate:
    after = replace(copy, level=max(copy.level, rule.level), verified_at=now, missing_files=0, missing_bytes=0)
    if copy.missing_files:
        return Step("mend", copy.store.name, copy.missing_bytes, copy.missing_files), after
    return Step("check", copy.store.name, 0), after


def _would_do(roll: RollFacts, chosen: Sequence[_Candidate], rule: Rule, now: datetime) -> bool:
    replaced = {after.store.name: after for _, after in chosen}
    kept = [copy for copy in roll.copies if copy.store.name not in replaced]
    parts = replace(rule, looked_at=0.0)
    return judge_roll(replace(roll, copies=(*kept, *replaced.values())), parts, now).met


def _cost(chosen: Sequence[_Candidate]) -> tuple[int, int, int, int]:
    new = sum(step.act == "copy" for step, _ in chosen)
    moved = sum(step.bytes for step, _ in chosen)
    room_left = min((after.store.free - step.bytes for step, after in chosen if step.act == "copy"), default=0)
    return new, moved, len(chosen), -room_left
