"""What if a device dies, or a location burns?"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from datetime import datetime

from .facts import RollFacts, Rule, StoreFacts
from .verdict import judge_roll


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
        before = judge_roll(roll, rule, now)
        copies = tuple(replace(c, store=replace(c.store, lost=True)) if is_lost(c.store) else c for c in roll.copies)
        after = judge_roll(replace(roll, copies=copies), rule, now)
        if before.counting and not after.counting:
            gone.append(roll.tag)
        elif before.met and not after.met:
            below.append(roll.tag)
            to_copy += roll.bytes
    return LossReport(tuple(gone), tuple(below), to_copy)
