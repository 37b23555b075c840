"""Copies of a roll, with the evidence that there is of each."""

from collections.abc import Iterator

from django.db.models import Count, Q

from ruggedraft.clearing.roll_cases import RollCase
from ruggedraft.core.accounts import AccountCopy, AccountList, AccountReading
from ruggedraft.core.evidence import Evidence, Result
from ruggedraft.core.redundancy import CopyState, copy_state, rule_for
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Copy
from ruggedraft.rolls.readings import CopyStanding

_FAULTS = [result.value for result in Result if result.is_fault]


def copies_of(production: Production, case: RollCase) -> Iterator[AccountCopy]:
    """Those that there are, in the order of the stores; and those that left theirs."""
    standing, rule = case.standing, rule_for(case.standing.facts, production.rule.as_rule())
    rows = {row.pk: row for row in _rows(standing.roll.pk)}
    for one in standing.copies:
        row = rows.pop(one.id)
        yield _copy(row, one, copy_state(one.facts, rule, now()))
    for row in rows.values():
        yield _copy(row, None, None)


def _rows(roll: int) -> Iterator[Copy]:
    rows = Copy.every.filter(roll=roll).select_related("store__device__location").order_by("store__position", "pk")
    yield from rows.prefetch_related("beside")


def _copy(row: Copy, one: CopyStanding | None, state: CopyState | None) -> AccountCopy:
    device, facts = row.store.device, one.facts if one else None
    return AccountCopy(
        store=row.store.name, device=device.name, medium=device.medium, place=device.location.name,
        offsite=device.location.offsite, folder=row.folder, state=state,
        level=facts.level.words if facts and facts.files else "", read_at=facts.read_at if facts else None,
        files=facts.files if facts else 0, missing_files=facts.missing_files if facts else 0,
        broken_files=facts.broken_files if facts else 0, left_at=row.left_at,
        readings=tuple(_readings(row)),
        beside=tuple(AccountList(b.path, b.sha256) for b in sorted(row.beside.all(), key=lambda b: b.path)),
    )  # fmt: skip


def _readings(row: Copy) -> Iterator[AccountReading]:
    rows = row.readings.order_by("pk").annotate(wrong=Count("results", filter=Q(results__result__in=_FAULTS)))
    for one in rows:
        yield AccountReading(one.origin, one.began_at, Evidence(one.level).words, one.agreed_files, one.wrong)
