"""What exists where, as facts for verdicts and as rows for screens. Query counts do not grow with the rows."""

from collections.abc import Iterable, Set
from dataclasses import dataclass
from datetime import datetime

from django.db.models import Count, Max, Prefetch, Sum

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.redundancy import CopyFacts, FileFact, RollFacts
from ruggedraft.intake.models import Card
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import store_facts, stores

from .models import Check, Copy, CopyFault, Roll, RollFile


@dataclass(frozen=True)
class CopyStanding:
    """A copy's row and the facts that follow from its checks and faults."""

    copy: Copy
    facts: CopyFacts
    last_check: Check | None


@dataclass(frozen=True)
class RollStanding:
    """A roll's row, its facts (without its files), and its copies in the order of the stores."""

    roll: Roll
    facts: RollFacts
    copies: tuple[CopyStanding, ...]
    file_count: int
    newest_file: int


def roll_standings(rolls: Iterable[Roll], *, with_files: bool = False) -> list[RollStanding]:
    """Everything a verdict needs for these rolls, in a number of queries that does not depend on how many there are."""
    rolls = list(rolls)
    places = {store.pk: store for store in stores()}
    totals = {row["roll"]: row for row in _totals(rolls)}
    faults = _open_faults(rolls)
    copies = Copy.objects.filter(roll__in=rolls).order_by("store__position", "id")
    by_roll: dict[int, list[Copy]] = {roll.pk: [] for roll in rolls}
    for copy in copies.prefetch_related(Prefetch("checks", Check.objects.order_by("id"))):
        by_roll[copy.roll_id].append(copy)
    files = _files(rolls) if with_files else {}
    return [
        _standing(roll, by_roll[roll.pk], places, totals.get(roll.pk), faults, files.get(roll.pk, frozenset()))
        for roll in rolls
    ]


def _standing(
    roll: Roll,
    copies: list[Copy],
    places: dict[int, Store],
    totals: dict[str, int] | None,
    faults: dict[int, tuple[int, int]],
    files: frozenset[FileFact],
) -> RollStanding:
    count, size, newest = (totals["count"], totals["size"], totals["newest"]) if totals else (0, 0, 0)
    late = _files_after(roll, copies, newest)
    standings = tuple(
        _copy_standing(copy, places[copy.store_id], (count, size), late[copy.pk], faults.get(copy.pk, (0, 0)))
        for copy in copies
    )
    facts = RollFacts(roll.tag, files, tuple(c.facts for c in standings), bytes=size)
    return RollStanding(roll, facts, standings, count, newest)


def _copy_standing(
    copy: Copy, store: Store, total: tuple[int, int], late: tuple[int, int], faults: tuple[int, int]
) -> CopyStanding:
    checks = list(copy.checks.all())
    evidence = _evidence(checks)
    missing = (late[0] + faults[0], late[1] + faults[1]) if evidence else (max(total[0], 1), total[1])
    level, verified_at = evidence or (Evidence.LISTED, None)
    facts = CopyFacts(store_facts(store), level, verified_at, *missing)
    return CopyStanding(copy, facts, checks[-1] if checks else None)


def _evidence(checks: list[Check]) -> tuple[Evidence, datetime] | None:
    """Level and time of a whole copy. A check of only some files can weaken what stood before, never renew it."""
    if not checks:
        return None
    level, at = Evidence(checks[0].level), checks[0].at
    for check in checks[1:]:
        level, at = (Evidence(check.level), check.at) if check.whole else (min(level, Evidence(check.level)), at)
    return level, at


def _files_after(roll: Roll, copies: list[Copy], newest: int) -> dict[int, tuple[int, int]]:
    """Count and bytes of files that joined the roll after each copy's last check. Only rare rolls need a query."""
    until = {copy.pk: max((check.files_until for check in copy.checks.all()), default=0) for copy in copies}
    found = {}
    for pk, last in until.items():
        if last >= newest:
            found[pk] = (0, 0)
        else:
            row = RollFile.objects.filter(roll=roll, pk__gt=last).aggregate(count=Count("pk"), size=Sum("size"))
            found[pk] = (row["count"], row["size"] or 0)
    return found


def _totals(rolls: list[Roll]) -> Iterable[dict[str, int]]:
    rows = RollFile.objects.filter(roll__in=rolls).values("roll")
    return rows.annotate(count=Count("pk"), size=Sum("size"), newest=Max("pk"))


def _open_faults(rolls: list[Roll]) -> dict[int, tuple[int, int]]:
    rows = CopyFault.objects.filter(copy__roll__in=rolls, mended_by=None).values("copy")
    return {
        row["copy"]: (row["count"], row["size"]) for row in rows.annotate(count=Count("pk"), size=Sum("file__size"))
    }


def _files(rolls: list[Roll]) -> dict[int, frozenset[FileFact]]:
    found: dict[int, set[FileFact]] = {}
    for roll, path, size, modified in RollFile.objects.filter(roll__in=rolls).values_list(
        "roll", "path", "size", "modified_ns"
    ):
        found.setdefault(roll, set()).add(FileFact(path, size, modified))
    return {roll: frozenset(files) for roll, files in found.items()}


def last_rolls(cards: Iterable[Card]) -> dict[int, Roll]:
    """The last roll of each card, by the card's id, in one query."""
    newest = Roll.objects.filter(card__in=cards).order_by("card_id", "-id").distinct("card_id")
    return {roll.card_id: roll for roll in newest}


def is_current(files: Set[FileFact], listed: Iterable[FileFact] | None) -> bool:
    """Whether a card's last roll is the one whose files are on it now.

    files: the roll's. listed: the card's entries, None if it was never read.
    A card that shows none of its last roll's files was formatted: what is on it now is another roll. A roll of which
    nothing was read yet goes on, so that its number does.
    """
    return listed is None or not files or not files.isdisjoint(listed)


def current_roll(card: Card, listed: Iterable[FileFact]) -> Roll | None:
    """The roll that is on a card with these entries, if it is one the ledger knows."""
    last = last_rolls([card]).get(card.pk)
    if last is None:
        return None
    files = {FileFact(*row) for row in last.files.values_list("path", "size", "modified_ns")}
    return last if is_current(files, listed) else None
