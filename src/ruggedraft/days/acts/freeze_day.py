"""Keeping a day's account as it is."""

from datetime import date

from ruggedraft.crew.models import Person
from ruggedraft.productions.models import Production

from ..making import account_of
from ..models import FrozenDay
from ..queries import ACCOUNT


def freeze_day(person: Person, production: Production, day: date) -> FrozenDay:
    """Inside the act that it belongs to, which says who may, holds still and writes the journal."""
    account = account_of(production, day)
    kept = ACCOUNT.dump_json(account).decode()
    return FrozenDay.objects.create(production=production, day=day, at=account.at, by=person, account=kept)
