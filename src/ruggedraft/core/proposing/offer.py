"""The offer that a card's situation allows: tag, folder, what goes where, and what speaks against it."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from ..errors import ActRefused, PlanError
from ..naming import EXT, roll_folder
from ..preflight import Demand, Refusal, falls_short, preflight
from ..redundancy import FileFact
from ..sources.paths import to_ledger
from ..taking import Take
from .choice import Choice
from .naming import Naming
from .situation import Situation, StoreNow, is_there


class Startable(StrEnum):
    """Whether an offload may start, and if not, why not."""

    READY = "ready"
    REFUSED = "refused"
    NOTHING_CHOSEN = "nothing chosen"
    ALL_HELD = "all held"
    """every file of the card is in the roll's copy on every store it goes to, as it was last read there"""
    CHOSEN_HELD = "chosen held"
    """the same of what is chosen; the card has more"""


@dataclass(frozen=True)
class Offer:
    """What an offload of a card would do. goes_on: it joins the card's last roll; otherwise it opens a new one.

    choice: which files go and where, None where all go under their own names and every store can hold those
    held_files: how many of those that would go are on every store already. card_files: how many the card has
    """

    goes_on: bool
    number: int
    tag: str
    shoot_day: date
    folder: str
    naming: Naming
    choice: Choice | None
    demands: tuple[Demand, ...]
    refusals: tuple[Refusal, ...]
    short: tuple[Refusal, ...]
    held_files: int
    going_files: int
    going_bytes: int
    card_files: int

    @property
    def startable(self) -> Startable:
        """Whether it may start as it is, and if not, why."""
        if self.going_files == 0:
            return Startable.NOTHING_CHOSEN
        if self.demands and all(demand.files == 0 and not demand.store.lost for demand in self.demands):
            return Startable.ALL_HELD if self.going_files == self.card_files else Startable.CHOSEN_HELD
        return Startable.REFUSED if self.refusals else Startable.READY


def make_offer(now: Situation, wanted: Take, choose: Callable[[Naming], Choice]) -> Offer:
    """Of a situation that leaves no `question`. choose: what is wanted of the card, under these names

    It is asked only where something is left out, renamed, or has to be looked at for a store's sake.
    Raises ActRefused where the plan cannot be used.
    """
    number, tag = (now.last.number, now.last.tag) if now.last else now.numbers.next()
    day = now.last.shoot_day if now.last else now.day
    naming = now.naming.of_roll(tag, day)
    try:
        choice = None if _plain(now, wanted) else choose(naming)
        folder = roll_folder(naming.plan, naming.values)
    except PlanError as error:
        raise ActRefused(f"The plan cannot be used: {error.sentence}") from error
    files = _going(now.listed or (), choice)
    missing = _missing(files, now.stores)
    demands = tuple(
        Demand(store.facts, sum(file.size for file in lacking), len(lacking))
        for store, lacking in zip(now.stores, missing, strict=True)
    )
    refusals = (*preflight(demands), *(_refusals(choice, naming) if choice else ()))
    return Offer(
        now.last is not None, number, tag, day, folder, naming, choice, demands, refusals,
        tuple(falls_short(demands, now.rule)),
        held_files=len(files) - max(map(len, missing), default=0), going_files=len(files),
        going_bytes=sum(file.size for file in files), card_files=now.files,
    )  # fmt: skip


def _plain(now: Situation, wanted: Take) -> bool:
    """Nothing is left out or renamed, and every store holds what Linux holds: the usual case is quick."""
    linux = all(store.file_system == EXT.name for store in now.stores)
    return wanted.everything and not now.naming.plan.names and linux


def _going(listed: Sequence[FileFact], choice: Choice | None) -> list[FileFact]:
    """Files that would go; links and the like are nobody's."""
    files = [fact for fact in listed if fact.size >= 0]
    if choice is None:
        return files
    going = {to_ledger(entry.path) for entry in choice.files}
    return [fact for fact in files if fact.path in going]


def _missing(files: Sequence[FileFact], stores: Sequence[StoreNow]) -> list[list[FileFact]]:
    """What each store is not known to hold. Stores that hold the very same are gone through once."""
    by_what: dict[int, list[FileFact]] = {}
    for store in stores:
        if id(store.held) not in by_what:
            by_what[id(store.held)] = [file for file in files if not is_there(file, store.held)]
    return [by_what[id(store.held)] for store in stores]


def _refusals(choice: Choice, naming: Naming) -> list[Refusal]:
    """What speaks against the files chosen and their names."""
    found = []
    if not choice.files:
        found.append(Refusal("nothing", "Nothing on this card is chosen: there is nothing to offload."))
    if choice.collisions:
        found.append(Refusal("names", _given_twice(choice.collisions)))
    if choice.problems and not naming.mend:
        first = choice.problems[0]
        words = (
            f"{len(choice.problems):,} names do not fit on {first.file_system}, '{printable(first.path)}' first "
            f"({first.reason}): let the plan mend names, or use other stores."
        )
        found.append(Refusal("names", words))
    return found


def _given_twice(collisions: Mapping[str, int]) -> str:
    first, count = printable(min(collisions)), len(collisions)
    twice = "1 name would be given twice" if count == 1 else f"{count:,} names would be given twice"
    which = f"'{first}'" if count == 1 else f"'{first}' first"
    return f"{twice}, {which}: add {{name}}, {{counter}} or {{number}} to the plan's names."


def printable(path: str) -> str:
    """A path as a screen can show it: bytes that are no text become question marks."""
    return path.encode("utf-8", "replace").decode()
