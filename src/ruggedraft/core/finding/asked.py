import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import IntEnum, StrEnum


class Thing(StrEnum):
    """What a name may be of."""

    CARD = "card"
    ROLL = "roll"
    STORE = "store"


class Rank(IntEnum):
    """How well a name fits what was asked for; the best comes first."""

    EXACT = 0
    NUMBER = 1
    """the number that the name ends with"""
    BEGINS = 2
    WITHIN = 3


_SAYS: Mapping[str, Thing] = {
    "card": Thing.CARD, "cards": Thing.CARD, "roll": Thing.ROLL, "rolls": Thing.ROLL, "drive": Thing.STORE,
    "store": Thing.STORE, "disk": Thing.STORE,
}  # fmt: skip
_NOISE = frozenset(("where", "wheres", "where's", "is", "are", "the", "my", "our", "who", "has", "got"))
_WORDS = re.compile(r"[^\s?!.,;:]+")


@dataclass(frozen=True)
class Asked:
    """wanted: what is to be found, as it is compared. things: kinds that the question speaks of; empty: any"""

    wanted: str
    things: frozenset[Thing]

    def rank(self, thing: Thing, name: str) -> Rank | None:
        """How a name of this kind of thing fits; None where it does not.

        >>> asked_for("Where is card 14?").rank(Thing.CARD, "A-14").name
        'NUMBER'
        >>> asked_for("a14").rank(Thing.CARD, "A-14").name
        'EXACT'
        >>> asked_for("card 14").rank(Thing.ROLL, "A014") is None
        True
        """
        if not self.wanted or (self.things and thing not in self.things):
            return None
        plain = _plain(name)
        if plain == self.wanted:
            return Rank.EXACT
        if self.wanted.isdecimal():
            return Rank.NUMBER if _number_of(plain) == int(self.wanted) else None
        if plain.startswith(self.wanted):
            return Rank.BEGINS
        return Rank.WITHIN if self.wanted in plain else None

    def best(self, thing: Thing, names: Iterable[str]) -> list[tuple[Rank, str]]:
        """Those that fit, the best first, then by name."""
        return sorted((rank, name) for name in names if (rank := self.rank(thing, name)) is not None)


def asked_for(question: str) -> Asked:
    """What a question, or a few words of one, is about.

    >>> asked_for("where is the drive Cart SSD 2 ?").wanted, asked_for("drive").wanted
    ('cartssd2', 'drive')
    """
    words = _WORDS.findall(question.casefold())
    kept = [word for word in words if word not in _NOISE]
    names = [word for word in kept if word not in _SAYS]
    if not names:  # something may be called so
        return Asked(_plain("".join(kept)), frozenset())
    return Asked(_plain("".join(names)), frozenset(_SAYS[word] for word in kept if word in _SAYS))


def _plain(name: str) -> str:
    """As it is compared: labels are written with and without dashes and spaces."""
    return re.sub(r"[\s\-_/]+", "", name.casefold())


def _number_of(plain: str) -> int | None:
    found = re.search(r"[0-9]{1,9}$", plain)
    return int(found[0]) if found else None
