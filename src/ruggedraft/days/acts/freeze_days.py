"""Keeping days' accounts as they are."""

from datetime import date

from ruggedraft.crew.models import Person
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll

from ..making import account_of
from ..models import FrozenDay
from ..queries import ACCOUNT


def freeze_days(person: Person, production: Production) -> list[FrozenDay]:
    """The account of today; before it that of the last day that was shot, where nobody handed over since it ended.

    A night shift ends when the next day has begun. Inside the act that this belongs to, which says who may, holds still
    and writes the journal.
    """
    today = production.shoot_day(now())
    last = _last_before(production, today)
    return [_frozen(person, production, day) for day in (last, today) if day is not None]


def _last_before(production: Production, today: date) -> date | None:
    days = Roll.objects.filter(production=production, shoot_day__lt=today).order_by("-shoot_day")
    last = days.values_list("shoot_day", flat=True).first()
    if last is None:
        return None
    ended = production.span_of(last)[1]
    return None if FrozenDay.objects.filter(production=production, day=last, at__gte=ended).exists() else last


def _frozen(person: Person, production: Production, day: date) -> FrozenDay:
    account = account_of(production, day)
    kept = ACCOUNT.dump_json(account).decode()
    return FrozenDay.objects.create(production=production, day=day, at=account.at, by=person, account=kept)
