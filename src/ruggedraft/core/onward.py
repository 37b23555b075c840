"""Bringing rolls onward to a store, from verified copies: which of them go, what that asks of its room, which stay."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import NamedTuple

from .preflight import gigabytes
from .redundancy import RollFacts, StoreFacts


@dataclass(frozen=True)
class Wanted:
    """A roll that is wanted on another store.

    sources: names of reachable stores with a copy that is whole and read back
    open_run: what is under way with it there, as a clause, or empty
    """

    tag: str
    facts: RollFacts
    sources: tuple[str, ...]
    open_run: str = ""


class Going(NamedTuple):
    """bytes, files: what the store lacks of it, which is all that is written. source: where it is to come from"""

    tag: str
    bytes: int
    files: int
    source: str


class Staying(NamedTuple):
    """Why a roll is not brought, as a clause about it."""

    tag: str
    reason: str


@dataclass(frozen=True)
class Onward:
    """Those with the fewest copies go first, so that room that does not do for all does for them."""

    going: tuple[Going, ...]
    staying: tuple[Staying, ...]

    @property
    def bytes(self) -> int:
        """To be written in all."""
        return sum(one.bytes for one in self.going)


def onward(rolls: Iterable[Wanted], store: StoreFacts) -> Onward:
    """What would be brought to this store now. Nothing is ever brought from a copy that is not proven."""
    left = store.free
    going, staying = list[Going](), list[Staying]()
    for roll in sorted(rolls, key=lambda one: (_copies(one.facts), one.tag)):
        lacks = _lacking(roll, store)
        reason = _against(roll, store, lacks, left)
        if reason:
            staying.append(Staying(roll.tag, reason))
        else:
            going.append(Going(roll.tag, *lacks, roll.sources[0]))
            left -= lacks[0]
    return Onward(tuple(going), tuple(staying))


def _copies(facts: RollFacts) -> int:
    return sum(copy.whole_and_read_back and not copy.store.lost for copy in facts.copies)


def _lacking(roll: Wanted, store: StoreFacts) -> tuple[int, int]:
    """Bytes and files of the roll that the store is not known to hold."""
    there = next((copy for copy in roll.facts.copies if copy.store.name == store.name), None)
    if there is None or not there.files + there.missing_files:
        return roll.facts.bytes, roll.facts.files
    return there.missing_bytes, there.missing_files


def _against(roll: Wanted, store: StoreFacts, lacks: tuple[int, int], left: int) -> str:
    if roll.open_run:
        return roll.open_run
    if roll.facts.unread or not roll.facts.files:
        return "not all of it was read off its card"
    if not lacks[1]:
        return "all of it is there"
    if store.retired:
        return f"'{store.name}' is out of service"
    if store.lost or not store.online:
        return f"'{store.name}' is not connected"
    if not roll.sources:
        return "no copy of it that is whole and read back is connected"
    if lacks[0] > left:
        return f"no room is left for it: {gigabytes(lacks[0])} are needed, {gigabytes(max(left, 0))} would be free"
    return ""
