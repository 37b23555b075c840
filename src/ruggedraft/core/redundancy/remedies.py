"""What would it take: the least work that satisfies a rule."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum
from itertools import combinations

from ..evidence import Evidence
from .facts import CopyFacts, RollFacts, Rule, StoreFacts
from .states import BlockKind
from .verdict import counts, judge_roll, rule_for, shortfalls

_MOST_STEPS = 6
_MOST_CANDIDATES = 14
"""Bounds of the search: 2^14 subsets. Beyond that many stores, those with the most room are tried."""


class StepKind(StrEnum):
    """What somebody would have to do."""

    COPY = "copy"
    """a new copy on this store"""
    MEND = "mend"
    """bring what is missing or damaged there"""
    CHECK = "check"
    """read it again"""


@dataclass(frozen=True)
class Step:
    """One thing to do on one store. bytes: to be moved there. files: how many, of a copy to be mended

    then_check: what is written there is proven too weakly until it is checked
    """

    act: StepKind
    store: str
    bytes: int
    files: int = 0
    then_check: bool = False

    @property
    def sentence(self) -> str:
        """As an instruction, without a full stop."""
        after = ", and check it there" if self.then_check else ""
        if self.act is StepKind.COPY:
            return f"copy it to '{self.store}', which has room{after}"
        if self.act is StepKind.MEND:
            return f"mend {self.files:,} {'file' if self.files == 1 else 'files'} on '{self.store}'{after}"
        return f"check the copy on '{self.store}'"


@dataclass(frozen=True)
class Remedy:
    """What would make a roll safe: all of these steps."""

    steps: tuple[Step, ...]


_Candidate = tuple[Step, CopyFacts]


def what_would_it_take(roll: RollFacts, stores: Iterable[StoreFacts], rule: Rule, now: datetime) -> Remedy | None:
    """The steps, or None if no combination of reachable stores would do, or if files of the roll were never read.

    Fewest new copies first; among equals, least bytes to move; then fewest steps, a check that has to follow being one;
    then most free room left. A roll
    whose rule is met needs no steps.
    """
    rule, roll = rule_for(roll, rule), replace(roll, own_rule=None)
    if roll.unread or not roll.files:
        return None
    for tried in _by_new_copies(_candidates(roll, stores, rule, now)):  # what decides before anything else
        would_do = [chosen for chosen in tried if _would_do(roll, chosen, rule, now)]
        if would_do:
            return Remedy(tuple(step for step, _ in min(would_do, key=_cost)))
    return None


def _by_new_copies(candidates: Sequence[_Candidate]) -> Iterable[Iterable[tuple[_Candidate, ...]]]:
    """Every choice of candidates without a new copy, then every one with a single new copy, and so on."""
    repairs = [one for one in candidates if one[0].act is not StepKind.COPY]
    copies = [one for one in candidates if one[0].act is StepKind.COPY]
    for new in range(min(_MOST_STEPS, len(copies)) + 1):
        yield _combined(combinations(copies, new), repairs, _MOST_STEPS - new)


def _combined(
    copies: Iterable[tuple[_Candidate, ...]], repairs: Sequence[_Candidate], most: int
) -> Iterable[tuple[_Candidate, ...]]:
    """Each of these sets of new copies with every choice of so many repairs at most, fewest repairs first."""
    added = list(copies)
    for mended in range(min(most, len(repairs)) + 1):
        for some in combinations(repairs, mended):
            yield from (some + new for new in added)


"""A step, and the copy there would be after it."""


def _candidates(roll: RollFacts, stores: Iterable[StoreFacts], rule: Rule, now: datetime) -> list[_Candidate]:
    there = [copy for copy in roll.copies if copy.files]
    found = [_repair(copy, rule, now) for copy in there if _repairable(copy, rule, now)]
    taken = {copy.store.name for copy in there}
    free = [store for store in stores if store.name not in taken and _could_take(store, roll.bytes)]
    for store in sorted(free, key=lambda store: (store.proves < rule.level, -store.free)):
        step = Step(StepKind.COPY, store.name, roll.bytes, then_check=store.proves < rule.level)
        found.append((step, whole_copy(roll, store, rule, now)))
    return found[:_MOST_CANDIDATES]


def _could_take(store: StoreFacts, count_bytes: int) -> bool:
    return store.counts and store.online and not store.lost and store.free >= count_bytes


def whole_copy(roll: RollFacts, store: StoreFacts, rule: Rule, now: datetime) -> CopyFacts:
    """The copy there would be if the whole roll were written to a store now, and proven as the rule asks."""
    proven = tuple(now if level <= rule.level else None for level in Evidence)
    return CopyFacts(store, proven, roll.files, roll.bytes, looked_at=now)


def _repairable(copy: CopyFacts, rule: Rule, now: datetime) -> bool:
    usable = copy.store.counts and copy.store.online and not copy.store.lost
    return usable and not counts(copy, rule, now) and copy.store.free >= copy.missing_bytes


def _repair(copy: CopyFacts, rule: Rule, now: datetime) -> _Candidate:
    proven = tuple(now if level <= rule.level else old for level, old in zip(Evidence, copy.proven, strict=True))
    after = replace(copy, proven=proven, files=copy.files + copy.missing_files, missing_files=0)
    if copy.missing_files:
        weakly = copy.store.proves < rule.level
        return Step(StepKind.MEND, copy.store.name, copy.missing_bytes, copy.missing_files, then_check=weakly), after
    return Step(StepKind.CHECK, copy.store.name, 0), after


def _would_do(roll: RollFacts, chosen: Sequence[_Candidate], rule: Rule, now: datetime) -> bool:
    replaced = {after.store.name: after for _, after in chosen}
    kept = [copy for copy in roll.copies if copy.store.name not in replaced]
    parts = replace(rule, looked_at=0.0)
    return judge_roll(replace(roll, copies=(*kept, *replaced.values())), parts, now).met


def _cost(chosen: Sequence[_Candidate]) -> tuple[int, int, int, int]:
    new = sum(step.act is StepKind.COPY for step, _ in chosen)
    moved = sum(step.bytes for step, _ in chosen)
    least_room = min((after.store.free for step, after in chosen if step.act is StepKind.COPY), default=0)
    return new, moved, len(chosen) + sum(step.then_check for step, _ in chosen), -least_room


def bytes_short(roll: RollFacts, rule: Rule, now: datetime) -> int:
    """The bytes that still need copying to satisfy the rule, on stores as good as could be wished for.

    Copies that lack something are completed where that is less; one that only has to be read again costs nothing.
    """
    rule = rule_for(roll, rule)
    counting = [copy for copy in roll.copies if counts(copy, rule, now)]
    mendable = sorted(_mendable(roll, rule, now), key=lambda copy: copy.missing_bytes)[:_MOST_STEPS]
    choices = (chosen for size in range(len(mendable) + 1) for chosen in combinations(mendable, size))
    return min(_bytes_after(roll, counting, chosen, rule) for chosen in choices)


def _mendable(roll: RollFacts, rule: Rule, now: datetime) -> list[CopyFacts]:
    """Copies that do not count and would, if what they lack were brought or what is old were read."""
    there = [copy for copy in roll.copies if copy.files and copy.store.counts and not copy.store.lost]
    return [copy for copy in there if not counts(copy, rule, now)]


def _bytes_after(roll: RollFacts, counting: Sequence[CopyFacts], chosen: Sequence[CopyFacts], rule: Rule) -> int:
    """What it takes to mend the chosen copies, and to make as many new ones as are lacking then."""
    lacking = shortfalls([*counting, *chosen], rule)
    new = max((need - have for kind, have, need in lacking if kind in _OF_COPIES), default=0)
    return sum(copy.missing_bytes for copy in chosen) + new * roll.bytes


_OF_COPIES = frozenset((BlockKind.COPIES, BlockKind.DEVICES, BlockKind.LOCATIONS, BlockKind.OFFSITE, BlockKind.MEDIA))
