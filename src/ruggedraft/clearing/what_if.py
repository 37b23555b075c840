"""What if a drive dies, a place burns, or somebody leaves with a bag: what would be lost, and what would help."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from ruggedraft.core.errors import NotThere
from ruggedraft.core.redundancy import Loss, Rule, StoreFacts, after_the_loss, loss_to, lost_with
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
    """A roll that the loss would hurt. remedy: what, done now, would help; without steps where nothing would"""

    loss: Loss
    remedy: RollRemedy

    @property
    def standing(self) -> RollStanding:
        return self.remedy.standing


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
    """Worked out from the facts as they are now, by the same judge as every verdict. Raises NotThere."""
    return _Asked(production, places, of, name).answer()


class _Asked:
    """A loss that somebody thought of."""

    def __init__(self, production: Production, places: Mapping[int, Store], of: LossOf, name: str) -> None:
        self._production, self._places = production, places
        self._stores = [store_facts(place) for place in places.values()]
        named = frozenset(place.name for place in places.values() if _is_of(place, of, name))
        if not named:
            raise NotThere(f"No store is lost with {of} '{name}'.")
        self._lost = named if of is LossOf.PLACE else lost_with(named, self._stores)
        self._rule: Rule = production.rule.as_rule()
        self._moment: datetime = now()

    def answer(self) -> WhatIf:
        hurt = self._hurt()
        standings = roll_standings(hurt, self._places)
        below = [standings[pk].facts.bytes for pk, loss in hurt.items() if loss is Loss.BELOW]
        return WhatIf(
            tuple(sorted(self._lost)), len(hurt) - len(below), len(below), sum(below),
            tuple(self._after(hurt, list(standings.values())[:_MOST_ROWS])), self._room(),
        )  # fmt: skip

    def _hurt(self) -> dict[int, Loss]:
        """By the roll's id, those that would be gone first. Rolls that stand alike are judged together."""
        found: dict[int, Loss] = {}
        for group in alike(self._production, self._moment, self._places):
            loss = loss_to(group.one.facts, self._is_lost, self._rule, self._moment)
            if loss:
                found.update(dict.fromkeys(group.rolls, loss))
        return dict(sorted(found.items(), key=lambda one: (one[1] is not Loss.GONE, one[0])))

    def _after(self, hurt: Mapping[int, Loss], shown: list[RollStanding]) -> Iterable[RollAfter]:
        runs = open_runs_of(one.roll.pk for one in shown)
        for one in shown:
            steps = after_the_loss(one.facts, self._stores, self._is_lost, self._rule, self._moment)
            yield RollAfter(hurt[one.roll.pk], RollRemedy(one, steps, runs.get(one.roll.pk, frozenset())))

    def _room(self) -> dict[str, int]:
        left = (one for one in self._stores if not (self._is_lost(one) or one.lost))
        return {one.name: one.free for one in left if one.online and one.counts}

    def _is_lost(self, store: StoreFacts) -> bool:
        return store.name in self._lost


_NAME_OF: Mapping[LossOf, Callable[[Store], str | None]] = {
    LossOf.DEVICE: lambda place: place.device.name,
    LossOf.PLACE: lambda place: place.device.location.name,
    LossOf.PERSON: lambda place: (carrier.username or carrier.name) if (carrier := carrier_of(place)) else None,
}


def _is_of(place: Store, of: LossOf, name: str) -> bool:
    return _NAME_OF[of](place) == name
