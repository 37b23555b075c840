"""Tally's list: the rolls that are sought, by how they stand and by day, a page at a time; and what days come to."""

from bisect import bisect_right
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from operator import itemgetter

from django.contrib.postgres.expressions import ArraySubquery
from django.db.models import Case, Exists, OuterRef, Q, Value, When

from ruggedraft.core.redundancy import RollState, Survival
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.runs.models import Run
from ruggedraft.stores.models import Store

from .erased import erased
from .roll_cases import Overview, RollCase, overview, roll_cases

_ORDER = (RollState.BELOW, RollState.SHORT, RollState.SAFE)
_A_PAGE = 60


@dataclass(frozen=True)
class Sought:
    """Which rolls are asked for. Empty and None: all of them.

    day: the shoot day. camera: its letter. text: in the roll's tag or its card's label, whatever its case
    on, not_on: name of a store on which a copy of the roll was read, with whatever result, or never was
    rolls: ids; None: whichever
    """

    day: date | None = None
    camera: str = ""
    state: RollState | None = None
    on: str = ""
    not_on: str = ""
    text: str = ""
    rolls: frozenset[int] | None = None

    def filter(self) -> Q:
        """All but the day and the state: days are counted without the one, and the other is judged."""
        found = Q(camera__letter=self.camera) if self.camera else Q()
        if text := self.text.strip():
            found &= Q(tag__icontains=text) | Q(card__label__icontains=text)
        if self.rolls is not None:
            found &= Q(pk__in=self.rolls)
        if self.on:
            found &= _read_on(self.on)
        if self.not_on:
            found &= ~_read_on(self.not_on)
        return found


def _read_on(store: str) -> Q:
    return Q(Exists(Copy.objects.filter(roll=OuterRef("pk"), store__name=store, readings__isnull=False)))


@dataclass(frozen=True)
class Day:
    """What was shot on a day, of what was sought. files, bytes: what whole copies of its rolls hold.

    unsafe: how many of the rolls are short of the rule or below the line
    """

    day: date
    rolls: int
    unsafe: int
    files: int
    bytes: int


@dataclass(frozen=True)
class RollPage:
    """Some of a production's rolls. after: what to ask for to get the next ones; None on the last page.

    in_all: how many there are that were sought.
    survives: how many losses every roll does, sought or not. days: newest first, of what was sought but for the day
    """

    rolls: tuple[RollCase, ...]
    after: str | None
    in_all: int
    days: tuple[Day, ...]
    survives: Survival | None = None


@dataclass(frozen=True)
class _Row:
    """A roll as the list is ordered by. files, bytes: as last remembered. open_runs: of everything"""

    pk: int
    day: date
    cleared: bool
    sought: bool
    open_runs: Sequence[str]
    files: int
    bytes: int


_Place = tuple[int, int, int]


def page_of_rolls(
    production: Production,
    places: Mapping[int, Store],
    sought: Sought = Sought(),
    *,
    after: str = "",
    most: int = _A_PAGE,
) -> RollPage:
    """Rolls below the line first, then those short of the rule, then the safe ones; in each the newest day first.

    after: from the page before
    """
    moment = now()
    rows = _rows(production, sought)
    seen = overview(production, places, moment, {row.pk for row in rows if row.cleared})
    found = [row for row in rows if row.sought and sought.state in (None, seen.states[row.pk])]
    wanted = _in_order([row for row in found if sought.day in (None, row.day)], seen)
    shown, rest = _cut(wanted, after, most)
    page = roll_cases(production, [row.pk for row in shown], places, moment, _noted(shown))
    return RollPage(tuple(page), rest, len(wanted), _days(found, seen), seen.survives)


def _cut(wanted: Sequence[tuple[_Place, _Row]], after: str, most: int) -> tuple[list[_Row], str | None]:
    """The page behind a place; and what to ask for to get the next, None on the last."""
    begin = bisect_right(wanted, _from_words(after), key=itemgetter(0)) if after else 0
    page = wanted[begin : begin + most]
    rest = "/".join(map(str, page[-1][0])) if len(wanted) > begin + most else None
    return [row for _, row in page], rest


def _in_order(rows: Iterable[_Row], seen: Overview) -> list[tuple[_Place, _Row]]:
    return sorted(((_place(row, seen), row) for row in rows), key=itemgetter(0))


def _noted(rows: Iterable[_Row]) -> dict[int, tuple[bool, frozenset[str]]]:
    return {row.pk: (row.cleared, frozenset(row.open_runs)) for row in rows}


def _rows(production: Production, sought: Sought) -> list[_Row]:
    """All in one query; what is open stands in each row, and is looked up once."""
    cleared = Case(When(erased(), then=Value(True)), default=Value(False))
    wanted = sought.filter()
    mine = Case(When(wanted, then=Value(True)), default=Value(False)) if wanted else Value(True)
    rolls = Roll.objects.filter(production=production).annotate(was_cleared=cleared, is_sought=mine, open=_OPEN)
    rows = rolls.values_list("pk", "shoot_day", "was_cleared", "is_sought", "open", "summary__files", "summary__bytes")
    return [
        _Row(pk, day, cleared, mine, open_, files or 0, size or 0)
        for pk, day, cleared, mine, open_, files, size in rows
    ]


_OPEN = ArraySubquery(Run.objects.filter(finished_at=None).values("subject"))


def _place(row: _Row, seen: Overview) -> _Place:
    return _ORDER.index(seen.states[row.pk]), -row.day.toordinal(), -row.pk


def _from_words(after: str) -> _Place:
    """A place in the order; the beginning, where the words are not ours."""
    try:
        state, day, pk = map(int, after.split("/"))
    except ValueError:
        return -1, 0, 0
    return state, day, pk


def _days(found: Iterable[_Row], seen: Overview) -> tuple[Day, ...]:
    """A roll whose facts are newer than what is remembered of it stands alike with no other, and was worked out."""
    days: dict[date, list[tuple[RollState, int, int]]] = {}
    for row in found:
        fresh = seen.fresh.get(row.pk)
        files, size = (fresh.facts.files, fresh.facts.bytes) if fresh else (row.files, row.bytes)
        days.setdefault(row.day, []).append((seen.states[row.pk], files, size))
    return tuple(
        Day(
            day, len(rolls), sum(state is not RollState.SAFE for state, _, _ in rolls),
            sum(files for _, files, _ in rolls), sum(size for _, _, size in rolls),
        )
        for day, rolls in sorted(days.items(), reverse=True)
    )  # fmt: skip
