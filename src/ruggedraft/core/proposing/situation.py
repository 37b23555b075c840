"""What is known of a card that somebody wants to offload."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from ..errors import ActRefused
from ..naming import roll_tag
from ..redundancy import FileFact, Rule, StoreFacts
from .naming import Naming


@dataclass(frozen=True)
class LastRoll:
    """The last roll that was taken of a card."""

    tag: str
    number: int
    shoot_day: date


@dataclass(frozen=True)
class RollNumbers:
    """How rolls of a camera are numbered. first: by its plan. last: its last one, None without any.

    kept: ranges, first and last, that are kept for units away. own: the range of this ledger, where it is such a unit's
    is_taken: whether a tag is in use in the production; cameras may share a prefix
    """

    prefix: str
    digits: int
    first: int
    last: int | None
    is_taken: Callable[[str], bool]
    kept: Sequence[tuple[int, int]] = ()
    own: tuple[int, int] | None = None

    def next(self) -> tuple[int, str]:
        """The next free number and its tag. Raises ActRefused where a unit has used its numbers up."""
        number = self.own[0] if self.own else self.first
        if self.last is not None:
            number = max(self.last + 1, number)
        while (over := self._kept_until(number)) or self.is_taken(roll_tag(self.prefix, number, self.digits)):
            number = (over or number) + 1
        if self.own and number > self.own[1]:
            first, last = self.own
            raise ActRefused(f"Numbers {first} to {last} are used up: this unit has no more of {self.prefix}.")
        return number, roll_tag(self.prefix, number, self.digits)

    def _kept_until(self, number: int) -> int:
        """The last number of the range that is kept and holds this one; 0 if none does."""
        return next((last for first, last in self.kept if first <= number <= last), 0)


@dataclass(frozen=True)
class StoreNow:
    """A store that an offload would write to. file_system: a name of `naming.FILE_SYSTEMS`.

    held: by path, the files of the roll that goes on which it is known to hold
    """

    facts: StoreFacts
    file_system: str
    held: Mapping[str, FileFact]


@dataclass(frozen=True)
class Situation:
    """A card, and what an offload of it rests on.

    slot: name of the reader it is in; empty where it is in none
    listed: what is on it; None while it was never read. files: how many files that are
    read_in_this_stay: what is listed was seen since it was put in. inner: the reader shows only a folder inside it
    gone: files that were on it, that are in no copy and nobody answered for
    last: its last roll, if that goes on. day: the shoot day of its first file
    naming: the plan's, without the values that a roll gives
    """

    label: str
    slot: str
    listed: Sequence[FileFact] | None
    files: int
    read_in_this_stay: bool
    inner: bool
    gone: Sequence[FileFact]
    last: LastRoll | None
    numbers: RollNumbers
    day: date
    naming: Naming
    stores: Sequence[StoreNow]
    rule: Rule


def question(label: str, now: Situation | None) -> str:
    """What has to be settled before there can be an offer, in a sentence; empty if nothing has.

    label: the card's. now: None where the card has no camera yet
    """
    if now is None:
        return f"Card {label} belongs to no camera yet: say which in the set-up."
    return next((sentence for applies, sentence in _questions(now) if applies), "")


def _questions(now: Situation) -> Iterable[tuple[bool, str]]:
    yield now.listed is None, f"Card {now.label} has not been read yet."
    unread = bool(now.slot) and not now.read_in_this_stay  # what was on it before it came says nothing
    yield unread, f"Card {now.label} is in {now.slot} and has not been read there yet."
    inner = f"{now.slot} shows a folder inside card {now.label}, not the card: have the whole card read first."
    yield now.inner, inner
    yield bool(now.gone), _gone(now)
    yield not now.files, f"There is no file on card {now.label}: there is nothing to offload."


def _gone(now: Situation) -> str:
    """One at least is gone, or this is not said."""
    first = now.gone[0].path if now.gone else ""
    if len(now.gone) == 1:
        return (
            f"1 file that was on card {now.label} is not on it any more and in no copy, {first}: "
            "say what became of it, or that this is another card."
        )
    return (
        f"{len(now.gone):,} files that were on card {now.label} are not on it any more and in no copy, {first} first: "
        "say what became of them, or that this is another card."
    )


def goes_on(
    content: Iterable[FileFact], listed: Iterable[FileFact], *, roll_serial: str = "", card_serial: str = ""
) -> bool:
    """Whether a card's last roll is what is on it now, so that new files join it.

    content: the roll's files. listed: the card's entries. The serials are those of the file system, then and now
    Not after a format: that gives another serial, whatever the names are. Not where a file is known to be another one
    than the roll has under its name. And not where nothing of the roll is on the card any more.
    """
    if roll_serial and card_serial and roll_serial != card_serial:
        return False
    known = {file.path: file for file in content}
    here = [entry for entry in listed if entry.path in known]
    if any(_contradicts(entry, known[entry.path]) for entry in here):
        return False
    return not known or bool(here)


def _contradicts(entry: FileFact, file: FileFact) -> bool:
    """Another file than the roll has under this name. One that was never read is no content that could be lost."""
    return not entry.is_surely(file) and not entry.may_be(file)


def is_there(file: FileFact, held: Mapping[str, FileFact]) -> bool:
    """Whether a file of the card is among those that a store is known to hold."""
    found = held.get(file.path)
    return found is not None and (file.is_surely(found) or file.may_be(found))
