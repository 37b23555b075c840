"""What somebody was shown when they signed, and what has changed since, for whoever signs next."""

import hashlib
import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, NamedTuple

from ..wording import counted


class SeenWaiver(NamedTuple):
    """A waived file as it was, why, and who said so."""

    path: str
    size: int
    modified_ns: int
    fingerprint: str
    reason: str
    by: str


class SeenRoll(NamedTuple):
    """A roll on the card: what a whole copy must hold, and the stores whose copies counted. rule: of its own"""

    tag: str
    files: int
    bytes: int
    waived: int
    left: int
    rule: str
    counting: tuple[str, ...]


@dataclass(frozen=True)
class Seen:
    """Everything that a signature rests on. entries: a digest of all that is on the card; files: how many.

    rule: what was asked, as text
    """

    entries: str
    files: int
    rolls: tuple[SeenRoll, ...]
    waivers: tuple[SeenWaiver, ...]
    rule: str

    @property
    def digest(self) -> str:
        """The same for two exactly if they are."""
        return hashlib.sha256(json.dumps(self.as_data()).encode()).hexdigest()

    def as_data(self) -> dict[str, Any]:
        """For JSON. Put together by hand: a list of cards asks for it hundreds of times."""
        return {
            "entries": self.entries, "files": self.files, "rolls": [list(roll) for roll in self.rolls],
            "waivers": [list(waiver) for waiver in self.waivers], "rule": self.rule,
        }  # fmt: skip

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "Seen":
        """The inverse of `as_data`, also after JSON has made lists of tuples."""
        rolls = tuple(_roll(*roll) for roll in data["rolls"])
        waivers = tuple(SeenWaiver(*waiver) for waiver in data["waivers"])
        return cls(data["entries"], data["files"], rolls, waivers, data["rule"])


def _roll(*columns: Any) -> SeenRoll:
    *rest, counting = columns
    return SeenRoll._make((*rest, tuple(counting)))


def changes(before: Seen, now: Seen) -> tuple[str, ...]:
    """What is otherwise now than it was, in sentences without a full stop. Empty exactly if nothing is."""
    return tuple(_changes(before, now))


def _changes(before: Seen, now: Seen) -> Iterator[str]:
    if before.entries != now.entries:
        yield f"what is on the card changed: {counted(before.files, 'file')} then, {counted(now.files, 'file')} now"
    if before.rule != now.rule:
        yield "the rule changed"
    yield from _of_rolls({roll.tag: roll for roll in before.rolls}, {roll.tag: roll for roll in now.rolls})
    for waiver in now.waivers:
        if waiver not in before.waivers:
            yield f"{waiver.by} waived {waiver.path}: {waiver.reason}"
    for waiver in before.waivers:
        if waiver not in now.waivers:
            yield f"the waiver of {waiver.path} is about another file now"


def _of_rolls(before: Mapping[str, SeenRoll], now: Mapping[str, SeenRoll]) -> Iterator[str]:
    for tag in sorted(now.keys() - before.keys()):
        yield f"files of {tag} are on it"
    for tag in sorted(before.keys() - now.keys()):
        yield f"nothing of {tag} is on it any more"
    for tag in sorted(now.keys() & before.keys()):
        yield from _of_roll(before[tag], now[tag])


def _of_roll(before: SeenRoll, now: SeenRoll) -> Iterator[str]:
    for store in now.counting:
        if store not in before.counting:
            yield f"the copy of {now.tag} on '{store}' counts now"
    for store in before.counting:
        if store not in now.counting:
            yield f"the copy of {now.tag} on '{store}' does not count any more"
    if before.rule != now.rule:
        yield f"what is asked of {now.tag} changed"
    if before[1:5] != now[1:5]:
        told = [f"{counted(roll.files, 'file')}, {roll.bytes:,} bytes, {roll.waived} waived" for roll in (before, now)]
        yield f"what {now.tag} holds changed: {told[0]} then, {told[1]} now"
