"""Clearing's list: cards by what is asked of people, and in that by camera; a page at a time."""

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from ruggedraft.core.redundancy import CardStanding
from ruggedraft.productions.models import Production
from ruggedraft.stores.models import Store

from .cases import Case, active_cards, cases


class CardGroup(StrEnum):
    """What a card asks of people, in the order in which they look."""

    SIGN = "sign now"
    WORK = "needs work"
    GO = "may go back"
    AWAY = "handed back"
    UNSEEN = "never read"


_GROUPS = {
    CardStanding.CLEARABLE: CardGroup.SIGN, CardStanding.SIGNED: CardGroup.SIGN,
    CardStanding.CLEARED: CardGroup.GO, CardStanding.EMPTY: CardGroup.GO,
    CardStanding.OUT: CardGroup.AWAY, CardStanding.NEVER_READ: CardGroup.UNSEEN,
}  # fmt: skip
_ORDER = list(CardGroup)
_A_PAGE = 60


def group_of(standing: CardStanding) -> CardGroup:
    """Whatever is neither to be signed nor gone nor allowed to go needs work."""
    return _GROUPS.get(standing, CardGroup.WORK)


@dataclass(frozen=True)
class CardPage:
    """Some of a production's cards. after: what to ask for to get the next ones; None on the last page.

    counts: how many cards each group has in all, of those that have any
    """

    cards: tuple[Case, ...]
    after: str | None
    counts: Mapping[CardGroup, int]


def page_of_cards(
    production: Production, places: Mapping[int, Store], *, after: str = "", most: int = _A_PAGE
) -> CardPage:
    """By group, then by the camera's letter, then by label.

    after: from the page before
    """
    found = cases(active_cards().filter(camera__production=production), places)
    found = [
        one for one in found if one.standing not in (CardStanding.FINALS, CardStanding.PACKAGE)
    ]  # they ask nothing of anybody
    placed = sorted(((_place(one), one) for one in found), key=lambda pair: pair[0])
    behind = [(place, one) for place, one in placed if not after or place > _from_words(after)]
    shown = behind[:most]
    rest = _words(shown[-1][0]) if len(behind) > most else None
    counts = Counter(group_of(one.standing) for one in found)
    return CardPage(tuple(one for _, one in shown), rest, counts)


_Place = tuple[int, str, str]


def _place(one: Case) -> _Place:
    return _ORDER.index(group_of(one.standing)), one.card.owner.letter, one.card.label


def _words(place: _Place) -> str:
    return "-".join(map(str, place))


def _from_words(after: str) -> _Place:
    """A place in the order; the beginning, where the words are not ours."""
    group, letter, label = [*after.split("-", 2), "", ""][:3]
    return (int(group), letter, label) if group.isdecimal() else (-1, "", "")
