"""What if a drive dies, a place burns, or somebody leaves with a bag: what would be lost, and what would help."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from ruggedraft.core.errors import NotThere
from ruggedraft.core.redundancy import (
    RollFacts,
    Rule,
    StoreFacts,
    after_the_loss,
    is_gone,
    judge_roll,
    without,
)
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Production
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.summaries import alike, roll_standings
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import carrier_of, store_facts

from .roll_cases import RollRemedy, open_runs_of

_MOST_ROWS = 100


class LossOf(StrEnum):
    """What would be lost."""

    DEVICE = "device"
    PLACE = "place"
    PERSON = "person"
    """whatever somebody carries"""


@dataclass(frozen=True)
class RollAfter:
    """A roll that the loss would hurt. gone: no copy that counts would be left. remedy: what, done now, would help"""

    standing: RollStanding
    gone: bool
    bytes: int
    remedy: RollRemedy | None


@dataclass(frozen=True)
class WhatIf:
    """stores: names of those that would be lost. gone, below: how many rolls would have no copy that counts left, and
    how many would fall below the rule. bytes_to_copy: of those below, once each.

    rolls: the first of them, those that would be gone before others
    room: of each store that would be left and is connected, what is free there, in bytes
    """

    stores: tuple[str, ...]
    gone: int
    below: int
    bytes_to_copy: int
    rolls: tuple[RollAfter, ...]
    room: Mapping[str, int]


def what_if(production: Production, places: Mapping[int, Store], of: LossOf, name: str) -> WhatIf:
    """Worked out from the facts as they are now, by the same judge as every verdict. Raises NotThere.

    Rolls of which a verdict on one is the verdict on each are judged together.
    """
    moment, rule = now(), production.rule.as_rule()
    lost = {place.name for place in places.values() if _is_of(place, of, name)}
    if not lost:
        raise NotThere(f"No store is lost with {of} '{name}'.")
    gone, below = _hurt(production, places, lambda store: store.name in lost, rule, moment)
    standings = roll_standings([*gone, *below], places)
    facts = [store_facts(place) for place in places.values()]
    left = {one.name: one.free for one in facts if one.name not in lost and one.online and one.counts and not one.lost}
    shown = list(standings.values())[:_MOST_ROWS]
    runs = open_runs_of(one.roll.pk for one in shown)
    rolls = tuple(
        RollAfter(
            one, one.roll.pk in gone, one.facts.bytes,
            RollRemedy(
                one, after_the_loss(one.facts, facts, lambda store: store.name in lost, rule, moment),
                runs.get(one.roll.pk, frozenset()),
            ),
        )
        for one in shown
    )  # fmt: skip
    to_copy = sum(standings[pk].facts.bytes for pk in below)
    return WhatIf(tuple(sorted(lost)), len(gone), len(below), to_copy, rolls, left)


def _hurt(
    production: Production,
    places: Mapping[int, Store],
    is_lost: Callable[[StoreFacts], bool],
    rule: Rule,
    moment: datetime,
) -> tuple[list[int], list[int]]:
    """Ids of rolls that would have no copy that counts left, and of those that would fall below the rule."""
    gone: list[int] = []
    below: list[int] = []
    for group in alike(production, moment, places):
        hurt = _how(group.one.facts, is_lost, rule, moment)
        if hurt is not None:
            (gone if hurt else below).extend(group.rolls)
    return sorted(gone), sorted(below)


def _how(roll: RollFacts, is_lost: Callable[[StoreFacts], bool], rule: Rule, moment: datetime) -> bool | None:
    """True: it would be gone. False: it met the rule, and would not any more. None: neither"""
    if not any(is_lost(copy.store) for copy in roll.copies):
        return None
    before, after = judge_roll(roll, rule, moment), judge_roll(without(roll, is_lost), rule, moment)
    if is_gone(before, after):
        return True
    return False if before.met and not after.met else None


def _is_of(place: Store, of: LossOf, name: str) -> bool:
    device = place.device
    if of is LossOf.DEVICE:
        return device.name == name
    if of is LossOf.PLACE:
        return device.location.name == name
    carrier = carrier_of(place)
    return carrier is not None and carrier.username == name
