"""Making room on a store, months later: of which rolls a copy may go from it, and why the others stay."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import datetime
from typing import NamedTuple

from .redundancy import RollFacts, Rule, blocks_clearing, judge_roll


@dataclass(frozen=True)
class Held:
    """A roll of which something lies on the store.

    facts: with its holds, and its copies on all stores. delivered_at: None where it was not
    files, bytes: what would be taken off: what the store is known to hold of it, but for what is to stay
    kept: so many of its clips stay, as somebody keeps them
    beside: names of other stores with a copy that is connected where this store is, and that may be read
    open_run: what is under way with it, as a clause, or empty
    """

    facts: RollFacts
    delivered_at: datetime | None
    files: int
    bytes: int
    kept: int = 0
    beside: frozenset[str] = frozenset()
    open_run: str = ""

    @property
    def tag(self) -> str:
        """Of the roll."""
        return self.facts.tag


class Stays(NamedTuple):
    """Why a roll stays on a store, as a clause about it."""

    held: Held
    reason: str


@dataclass(frozen=True)
class Room:
    """What could go from a store now, most bytes first; and what stays."""

    going: tuple[Held, ...]
    staying: tuple[Stays, ...]

    @property
    def bytes(self) -> int:
        """To be gained in all."""
        return sum(one.bytes for one in self.going)


def room(rolls: Iterable[Held], store: str, rule: Rule, now: datetime, delivered_before: datetime) -> Room:
    """Judge every roll of which something lies on the store of this name; rule: of their production."""
    going, staying = list[Held](), list[Stays]()
    for one in rolls:
        reason = against(one, store, rule, now, delivered_before)
        if reason:
            staying.append(Stays(one, reason))
        else:
            going.append(one)
    return Room(
        tuple(sorted(going, key=lambda one: (-one.bytes, one.tag))),
        tuple(sorted(staying, key=lambda one: one.held.tag)),
    )


def against(one: Held, store: str, rule: Rule, now: datetime, delivered_before: datetime) -> str:
    """Why nothing of a roll may be taken off the store, as a clause; empty where something may.

    Its rule has to be met by the other copies alone, as they are proven now: what stays on the store is half a copy,
    and counts for nothing. A delivery that is dated in the future is no delivery.
    """
    if one.open_run:
        return one.open_run
    if one.delivered_at is None:
        return "it was not delivered"
    if one.delivered_at > delivered_before:
        return "it was delivered later than that"
    hold = next((hold for hold in one.facts.holds if blocks_clearing(hold, [one.facts.delivered], now)), None)
    if hold:
        return hold.sentence
    if not one.files:
        return "somebody keeps all that is there of it" if one.kept else "nothing of it is known to be there"
    return _what_the_rule_says(one, store, rule, now)


def _what_the_rule_says(one: Held, store: str, rule: Rule, now: datetime) -> str:
    verdict = judge_roll(without(one.facts, store), rule, now)
    if verdict.blocks:
        return f"its rule is not met without this copy: {verdict.blocks[0].sentence}"
    if not one.beside & {copy.store.name for copy in verdict.counting}:
        return "no other copy of it that counts is connected beside this store: it could not be read back first"
    return ""


def without(facts: RollFacts, store: str) -> RollFacts:
    """A roll as if the store of this name held nothing of it."""
    return replace(facts, copies=tuple(copy for copy in facts.copies if copy.store.name != store))
