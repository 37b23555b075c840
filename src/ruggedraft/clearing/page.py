"""Clearing's list: cards in the order in which somebody should look at them, a page at a time."""

from collections.abc import Mapping
from dataclasses import dataclass

from ruggedraft.core.redundancy import CardStanding
from ruggedraft.productions.models import Production
from ruggedraft.stores.models import Store

from .cases import Case, active_cards, cases

_ORDER = (
    CardStanding.GONE, CardStanding.CLEARABLE, CardStanding.SIGNED, CardStanding.BLOCKED, CardStanding.UNREAD,
    CardStanding.RUNNING, CardStanding.OLD, CardStanding.CLEARED, CardStanding.EMPTY, CardStanding.OUT,
    CardStanding.NEVER_READ,
)  # fmt: skip
_NEEDS_SOMEBODY = CardStanding.OLD
"""The last of those that keep a card here; the others may go, or have gone."""
_A_PAGE = 60


@dataclass(frozen=True)
class CardPage:
    """Some of a production's cards. after: what to ask for to get the next ones; None on the last page."""

    cards: tuple[Case, ...]
    after: str | None
    in_all: int


def page_of_cards(
    production: Production, places: Mapping[int, Store], *, after: str = "", most: int = _A_PAGE
) -> CardPage:
    """Cards that keep somebody waiting first, and of those the ones in a reader; then those that may go; then the rest.

    after: from the page before
    """
    placed = [(_place(one), one) for one in cases(active_cards().filter(camera__production=production), places)]
    placed.sort(key=lambda pair: pair[0])
    behind = [(place, one) for place, one in placed if not after or place > _from_words(after)]
    shown = behind[:most]
    rest = _words(shown[-1][0]) if len(behind) > most else None
    return CardPage(tuple(one for _, one in shown), rest, len(placed))


_Place = tuple[int, int, int, str]


def _place(one: Case) -> _Place:
    rank = _ORDER.index(one.standing)
    stays = rank <= _ORDER.index(_NEEDS_SOMEBODY)
    return 0 if one.gone else 1 if stays else 2, int(stays and one.stay is None), rank, one.card.label


def _words(place: _Place) -> str:
    return "-".join(map(str, place))


def _from_words(after: str) -> _Place:
    """A place in the order; the beginning, where the words are not ours."""
    first, second, third, label = [*after.split("-", 3), "", "", ""][:4]
    numbers = (first, second, third)
    if not all(number.isdecimal() for number in numbers):
        return (-1, 0, 0, "")
    return int(first), int(second), int(third), label
