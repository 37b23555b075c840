"""Which card is it? By file-system serial, capacity, volume name, and what is on it; never by one of them alone where
they disagree.

Serials are not as unique as they look: cards that were copied block by block share one, and formatting gives a new one.
"""

from collections.abc import Iterable
from dataclasses import dataclass

_MOST_LIKE = 0.5
_PACKAGE = (
    "A sealed package, and no card. It can be looked at here; single files come out of it on Working files. To take it"
    " in as a roll of its own, give it a name"
)


@dataclass(frozen=True)
class Seen:
    """A card in a reader. capacity: bytes, 0 if unknown. package: it is none, but a sealed package of a roll"""

    serial: str
    volume: str
    capacity: int
    package: bool = False


@dataclass(frozen=True)
class KnownCard:
    """A card of the ledger. serials: those it was seen with. package: as of one that was seen

    likeness: the share of the files last seen on it that are on the card in question; 0 before that was listed
    elsewhere: the reader it is in at this moment, if that is another one
    """

    label: str
    serials: frozenset[str]
    capacity: int
    likeness: float = 0.0
    elsewhere: str = ""
    package: bool = False


@dataclass(frozen=True)
class Answer:
    """label: whose card it is beyond doubt, None if that has to be asked.

    question: what to ask, in a sentence. candidates: labels it may be, likeliest first.
    """

    label: str | None
    question: str = ""
    candidates: tuple[str, ...] = ()


def who_is(seen: Seen, known: Iterable[KnownCard]) -> Answer:
    """Which of the known cards this is, or what has to be asked. A package is never a card, nor a card a package."""
    return _answer(seen, [card for card in known if card.package is seen.package])


def _answer(seen: Seen, known: list[KnownCard]) -> Answer:
    claimed = [card for card in known if _claims(seen, card)]
    if not claimed:
        return _stranger(seen, [card for card in known if not card.elsewhere])
    free = [card for card in claimed if _fits(seen, card) and not card.elsewhere]
    if len(free) == len(claimed) == 1:
        return Answer(free[0].label)
    return _contested(seen, claimed, free)


def _claims(seen: Seen, card: KnownCard) -> bool:
    return bool(seen.serial) and seen.serial in card.serials


def _fits(seen: Seen, card: KnownCard) -> bool:
    return not seen.capacity or not card.capacity or seen.capacity == card.capacity


def _contested(seen: Seen, claimed: list[KnownCard], free: list[KnownCard]) -> Answer:
    """More than one card, or the wrong one, claims this serial: only content can tell, else a person."""
    alike = [card for card in free if card.likeness >= _MOST_LIKE]
    if len(alike) == 1:
        return Answer(alike[0].label)
    candidates = tuple(card.label for card in sorted(free, key=lambda card: -card.likeness))
    if len(claimed) > 1 and free:
        labels = _and([card.label for card in claimed])
        return Answer(None, f"{labels} share one serial ({seen.serial}): which of them is this?", candidates)
    return Answer(None, f"It claims to be {_claim(seen, claimed)}. Give this one its own label", candidates)


def _claim(seen: Seen, claimed: list[KnownCard]) -> str:
    away = next((card for card in claimed if card.elsewhere), None)
    if away:
        return f"{away.label}, which is in {away.elsewhere}: two cards with one serial ({seen.serial})"
    return f"{claimed[0].label} by its serial ({seen.serial}), but is of another size"


def _stranger(seen: Seen, known: list[KnownCard]) -> Answer:
    alike = sorted((card for card in known if card.likeness >= _MOST_LIKE), key=lambda card: -card.likeness)
    by_name = [card for card in known if seen.volume and card.label.casefold() == seen.volume.casefold()]
    candidates = tuple(dict.fromkeys(card.label for card in (*alike, *by_name)))
    if alike:
        question = f"Its serial is unknown, but it holds what was last seen on {alike[0].label}: is it that card?"
    elif by_name:
        question = f"Its serial is unknown, but its volume is named {seen.volume}: was {by_name[0].label} formatted?"
    else:
        question = _PACKAGE if seen.package else "This card is not in the ledger"
    return Answer(None, question, candidates)


def _and(labels: list[str]) -> str:
    return " and ".join([", ".join(labels[:-1]), labels[-1]] if len(labels) > 1 else labels)
