"""What if devices are lost: one dies, a place burns, somebody leaves with a bag?"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from datetime import datetime

from .facts import RollFacts, Rule, StoreFacts
from .remedies import Step, what_would_it_take
from .verdict import RollVerdict, judge_roll


@dataclass(frozen=True)
class LossReport:
    """gone: tags of rolls without any counting copy left. below: rolls that met the rule and would not any more.
    bytes_to_copy: what those below would have to be copied again, once each."""

    gone: tuple[str, ...]
    below: tuple[str, ...]
    bytes_to_copy: int


def what_if_lost(
    rolls: Iterable[RollFacts], is_lost: Callable[[StoreFacts], bool], rule: Rule, now: datetime
) -> LossReport:
    """Judge every roll again as if the stores for which `is_lost` holds were lost."""
    gone, below, to_copy = [], [], 0
    for roll in rolls:
        if not any(is_lost(copy.store) for copy in roll.copies):
            continue
        before, after = judge_roll(roll, rule, now), judge_roll(without(roll, is_lost), rule, now)
        if is_gone(before, after):
            gone.append(roll.tag)
        elif before.met and not after.met:
            below.append(roll.tag)
            to_copy += roll.bytes
    return LossReport(tuple(gone), tuple(below), to_copy)


def is_gone(before: RollVerdict, after: RollVerdict) -> bool:
    """Whether the last copies that counted are among those that were lost."""
    return bool(before.counting) and not after.counting


def without(roll: RollFacts, is_lost: Callable[[StoreFacts], bool]) -> RollFacts:
    """The roll as it would be if those stores were lost."""
    copies = tuple(
        replace(copy, store=replace(copy.store, lost=True)) if is_lost(copy.store) else copy for copy in roll.copies
    )
    return replace(roll, copies=copies)


def after_the_loss(
    roll: RollFacts, stores: Iterable[StoreFacts], is_lost: Callable[[StoreFacts], bool], rule: Rule, now: datetime
) -> tuple[Step, ...]:
    """The least work after which a roll is safe without those stores. Done now, their loss does not hurt it."""
    left = [store for store in stores if not is_lost(store)]
    remedy = what_would_it_take(without(roll, is_lost), left, rule, now)
    return remedy.steps if remedy else ()
