"""Who has a card."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from django.db.models import OuterRef, Subquery
from django.db.models.functions import Coalesce

from ruggedraft.core.wording import one_line
from ruggedraft.crew.models import Person
from ruggedraft.intake.models import Card, Insertion
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Custody

_LAST_STAY = Insertion.objects.filter(card=OuterRef("card")).order_by("-pk").values("pk")[:1]


@dataclass(frozen=True)
class CardHolder:
    """Who was said to have a card, and since when. name: empty where it came back, and nobody carries it"""

    name: str
    note: str
    since: datetime


def say_holder(card: Card, by: Person, *, holder: Person | None = None, outside: str = "", note: str = "") -> Custody:
    """Note who has a card from now until it is next put into a reader, or somebody says otherwise."""
    last = Insertion.objects.filter(card=card).order_by("-pk").values_list("pk", flat=True).first()
    return Custody.objects.create(
        card=card, holder=holder, outside=outside, note=one_line(note)[:200], after=last or 0, by=by, at=now()
    )


def holder_of(card: Card) -> Custody | None:
    """What was said last of who has it, unless it was put into a reader since."""
    return _said_last([card.pk]).get(card.pk)


def holders_of(cards: Iterable[int]) -> dict[int, CardHolder]:
    """The same of each card (id) of which it is known, in one query."""
    return {card: _as_holder(row) for card, row in _said_last(cards).items()}


def _said_last(cards: Iterable[int]) -> dict[int, Custody]:
    rows = Custody.objects.filter(card__in=list(cards)).order_by("card_id", "-pk").distinct("card_id")
    told = rows.select_related("holder").annotate(last_stay=Coalesce(Subquery(_LAST_STAY), 0))
    return {row.card_id: row for row in told if row.card_id and row.last_stay <= row.after}


def _as_holder(row: Custody) -> CardHolder:
    holder: Person | None = row.holder
    return CardHolder(holder.shown_name if holder else row.outside, row.note, row.at)
