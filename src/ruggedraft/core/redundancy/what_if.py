"""What if devices are lost: one dies, a place burns, somebody leaves with a bag?"""

from collections.abc import Callable, Collection, Iterable
from dataclasses import replace
from datetime import datetime
from enum import StrEnum

from .facts import RollFacts, Rule, StoreFacts, device_groups
from .remedies import Step, what_would_it_take
from .verdict import judge_roll


class Loss(StrEnum):
    """What a loss would do to a roll."""

    GONE = "gone"
    """the last copies that count are among what would be lost"""
    BELOW = "below"
    """it meets its rule, and would not any more"""


def lost_with(names: Collection[str], stores: Collection[StoreFacts]) -> frozenset[str]:
    """Names of all stores on the devices beneath those named: whatever passes for one device goes at once."""
    named = frozenset[str]().union(*(store.devices for store in stores if store.name in names))
    gone = [group for group in device_groups(stores) if group & named]
    return frozenset(store.name for store in stores if any(store.devices & group for group in gone))


def loss_to(roll: RollFacts, is_lost: Callable[[StoreFacts], bool], rule: Rule, now: datetime) -> Loss | None:
    """Judge a roll again as if the stores for which `is_lost` holds were lost; None where that does not hurt it."""
    if not any(is_lost(copy.store) for copy in roll.copies):
        return None
    before, after = judge_roll(roll, rule, now), judge_roll(_without(roll, is_lost), rule, now)
    if before.counting and not after.counting:
        return Loss.GONE
    return Loss.BELOW if before.met and not after.met else None


def after_the_loss(
    roll: RollFacts, stores: Iterable[StoreFacts], is_lost: Callable[[StoreFacts], bool], rule: Rule, now: datetime
) -> tuple[Step, ...]:
    """The least work after which a roll is safe without those stores. Done now, their loss does not hurt it."""
    left = [store for store in stores if not is_lost(store)]
    remedy = what_would_it_take(_without(roll, is_lost), left, rule, now)
    return remedy.steps if remedy else ()


def _without(roll: RollFacts, is_lost: Callable[[StoreFacts], bool]) -> RollFacts:
    """The roll as it would be if those stores were lost."""
    copies = tuple(
        replace(copy, store=replace(copy.store, lost=True)) if is_lost(copy.store) else copy for copy in roll.copies
    )
    return replace(roll, copies=copies)
