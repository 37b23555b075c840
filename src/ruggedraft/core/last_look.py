"""What is otherwise than when somebody last looked."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from .redundancy import RollState


class Became(StrEnum):
    """What a roll has become since."""

    BELOW = "fell below the line"
    SHORT = "short again"
    SAFE = "became safe"
    NEW = "new"


@dataclass(frozen=True)
class RollChange:
    """A roll that is not as somebody knows it. roll: its id. state: how it stands now"""

    roll: int
    became: Became
    state: RollState


def changes_since(known: Mapping[int, RollState], now: Mapping[int, RollState]) -> list[RollChange]:
    """By id of the roll; the worst first. A roll stands once, by what matters most of it.

    >>> changes_since({1: RollState.SAFE}, {1: RollState.BELOW, 2: RollState.SAFE})[0].became
    <Became.BELOW: 'fell below the line'>
    """
    found = [
        RollChange(roll, became, state)
        for roll, state in now.items()
        if (became := _became(known.get(roll), state)) is not None
    ]
    order = list(Became)
    return sorted(found, key=lambda one: (order.index(one.became), one.roll))


def _became(before: RollState | None, state: RollState) -> Became | None:
    if before is state:
        return None
    if state is RollState.BELOW:
        return Became.BELOW
    if before is None:
        return Became.NEW
    return Became.SAFE if state is RollState.SAFE else Became.SHORT
