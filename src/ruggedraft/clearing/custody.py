"""Who has a card."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from ruggedraft.crew.models import Person
from ruggedraft.intake.models import Card, Insertion
from ruggedraft.kit.models import Custody


@dataclass(frozen=True)
class CardHolder:
    """Who was said to have a card, and since when. name: empty where it came back, and nobody carries it"""

    name: str
    username: str
    note: str
    since: datetime


def holder_of(card: Card) -> Custody | None:
    """What was said last of who has it, unless it was put into a reader since."""
    last = Custody.objects.filter(card=card).order_by("-pk").first()
    if last and Insertion.objects.filter(card=card, inserted_at__gt=last.at).exists():
        return None
    return last


def holders_of(cards: Iterable[int]) -> dict[int, CardHolder]:
    """The last that was said of each card (id), in one query. Whether it went into a reader since, the caller knows."""
    rows = Custody.objects.filter(card__in=list(cards)).order_by("card_id", "-pk").distinct("card_id")
    return {row.card_id: _holder(row) for row in rows.select_related("holder") if row.card_id}


def _holder(row: Custody) -> CardHolder:
    holder: Person | None = row.holder
    name = holder.shown_name if holder else row.outside
    return CardHolder(name, holder.username if holder else "", row.note, row.at)
