"""What screens and papers read about shoot days."""

import hashlib
from collections import Counter, defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from django.db.models import Q
from pydantic import TypeAdapter

from ruggedraft.clearing.models import Clearance
from ruggedraft.clearing.roll_cases import RollCase, roll_cases
from ruggedraft.core.accounts import DayAccount, DayFigures, Material, added, marked_later
from ruggedraft.core.errors import NotThere
from ruggedraft.core.redundancy import RollState
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.summaries import places_of_all

from .making import account_of, material_of
from .material import Shot, shot_on
from .models import FrozenDay
from .troubles import troubles_of

ACCOUNT = TypeAdapter(DayAccount)
"""An account as JSON and back."""


@dataclass(frozen=True)
class Edition:
    """An account as it was frozen. id: of it; None for what is true now. by: who handed over then"""

    id: int | None
    account: DayAccount
    by: str = ""
    sealed: bool = True


def day_account(production: Production, day: date, edition: int | None = None) -> Edition:
    """As it was frozen in this edition (id), word for word; or as things are now, with what came later marked.

    Raises NotThere.
    """
    if edition is None:
        now_ = account_of(production, day)
        last = frozen_days(production, day)[-1:]
        return Edition(None, marked_later(now_, read_frozen(last[0])) if last else now_)
    found = next((one for one in frozen_days(production, day) if one.pk == edition), None)
    if found is None:
        raise NotThere("There is no such account of this day.")
    return Edition(found.pk, read_frozen(found), found.by.shown_name, as_sealed(production, found))


def frozen_days(production: Production, day: date) -> list[FrozenDay]:
    """The accounts of a day that were frozen, oldest first."""
    return list(FrozenDay.objects.filter(production=production, day=day).select_related("by").order_by("pk"))


def read_frozen(row: FrozenDay) -> DayAccount:
    account: DayAccount = ACCOUNT.validate_json(row.account)
    return account


def digest_of(row: FrozenDay) -> str:
    """SHA-256 of an account as it is kept, as the journal's row of its hand-over holds it."""
    return hashlib.sha256(row.account.encode()).hexdigest()


def as_sealed(production: Production, row: FrozenDay) -> bool:
    """Whether the journal says of it what it is: that nobody rewrote it since."""
    digest = digest_of(row)
    mine = Q(detail__accounts__contains=[digest]) | Q(detail__account=digest)  # as they were written when it was one
    return JournalEntry.objects.filter(mine, production=production.pk, act="hand over").exists()


def days_of(production: Production) -> list[DayFigures]:
    """Every day of which there is a roll or something that was signed, newest first."""
    found: dict[date, list[RollCase]] = defaultdict(list)
    for one in _cases(production):
        found[one.standing.roll.shoot_day].append(one)
    shot = shot_on(production, [one.standing.roll for rolls in found.values() for one in rolls])
    signed = Counter(
        production.shoot_day(at)
        for at in Clearance.objects.filter(roll__production=production).values_list("at", flat=True)
    )
    wrong = _troubles_by_day(production, {*found, *signed})
    return [
        _figures(production, day, found.get(day, []), shot, wrong[day], signed[day])
        for day in sorted({*found, *signed}, reverse=True)
    ]


def _troubles_by_day(production: Production, days: Iterable[date]) -> Counter[date]:
    """All in one go: a look at a day costs what the others do."""
    wanted = sorted(days)
    if not wanted:
        return Counter()
    span = production.span_of(wanted[0])[0], production.span_of(wanted[-1])[1]
    return Counter(production.shoot_day(one.at) for one in troubles_of(production, span))


def _figures(
    production: Production, day: date, rolls: list[RollCase], shot: dict[int, Shot], troubles: int, clearances: int
) -> DayFigures:
    return DayFigures(
        day, production.number_of(day), len(rolls), sum(one.state is not RollState.SAFE for one in rolls),
        added(_material(one, shot) for one in rolls), troubles, clearances,
    )  # fmt: skip


def _material(case: RollCase, shot: dict[int, Shot]) -> Material:
    facts, roll = case.standing.facts, case.standing.roll
    return material_of(roll, shot[roll.pk], files=facts.files, bytes_=facts.bytes)


def _cases(production: Production) -> list[RollCase]:
    ids = Roll.objects.filter(production=production).order_by("pk").values_list("pk", flat=True)
    return roll_cases(production, list(ids), places_of_all(), now())
