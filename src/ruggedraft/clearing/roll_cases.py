"""How the rolls of a production stand: those that are not safe first."""

from collections.abc import Iterable, Mapping, Sequence, Set
from dataclasses import dataclass
from datetime import datetime

from django.contrib.postgres.expressions import ArraySubquery
from django.db.models import Case, OuterRef, Value, When

from ruggedraft.core.redundancy import (
    RollState,
    RollVerdict,
    Rule,
    Step,
    Survival,
    judge_roll,
    roll_state,
    survival,
    what_would_it_take,
)
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import LeftBehind, Roll
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.summaries import alike, places_of_all, roll_standings
from ruggedraft.runs.models import Run
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import store_facts

from .erased import erased


@dataclass(frozen=True)
class RollCase:
    """cleared: its card was cleared, so that it lives on its stores alone. open_runs: what its runs work on now"""

    standing: RollStanding
    verdict: RollVerdict
    cleared: bool
    open_runs: frozenset[str]

    @property
    def state(self) -> RollState:
        return roll_state(self.verdict, cleared=self.cleared)


@dataclass(frozen=True)
class RollRemedy:
    """The least work that would make a roll satisfy its rule. open_runs: subjects of its runs that have not ended"""

    standing: RollStanding
    steps: tuple[Step, ...]
    open_runs: frozenset[str]


def roll_remedy(
    standing: RollStanding, places: Mapping[int, Store], rule: Rule, moment: datetime, open_runs: frozenset[str]
) -> RollRemedy | None:
    """None where nothing that is connected would do, or where the rule is met."""
    facts = [store_facts(store) for store in places.values()]
    remedy = what_would_it_take(standing.facts, facts, rule, moment)
    return RollRemedy(standing, remedy.steps, open_runs) if remedy and remedy.steps else None


@dataclass(frozen=True)
class Overview:
    """All rolls of a production by how they stand. states: by the roll's id, those to look at first before others.

    fresh: standings that were worked out on the way, by the roll's id
    survives: how many losses every one of them does; None where there are none
    """

    states: Mapping[int, RollState]
    fresh: Mapping[int, RollStanding]
    survives: Survival | None = None


def overview(
    production: Production, places: Mapping[int, Store], moment: datetime, was_cleared: Set[int] | None = None
) -> Overview:
    """Of each group of rolls that stand alike one is judged; what it costs does not grow with the files.

    was_cleared: rolls whose card was cleared, where the caller knows of all
    """
    rule = production.rule.as_rule()
    groups = alike(production, moment, places)
    met, unmet, alive = set[int](), set[int](), list[Survival]()
    for group in groups:
        verdict = judge_roll(group.one.facts, rule, moment)
        (met if verdict.met else unmet).update(group.rolls)
        alive.append(survival(verdict.counting))
    below = unmet & (_cleared(unmet) if was_cleared is None else was_cleared)
    states = {
        **dict.fromkeys(sorted(below, reverse=True), RollState.BELOW),
        **dict.fromkeys(sorted(unmet - below, reverse=True), RollState.SHORT),
        **dict.fromkeys(sorted(met, reverse=True), RollState.SAFE),
    }
    return Overview(states, {group.one.roll.pk: group.one for group in groups}, _least(alive))


def _least(alive: Sequence[Survival]) -> Survival | None:
    if not alive:
        return None
    return Survival(min(one.devices for one in alive), min(one.locations for one in alive))


def _cleared(rolls: Iterable[int]) -> set[int]:
    return set(Roll.objects.filter(erased(), pk__in=list(rolls)).values_list("pk", flat=True))


def roll_cases(
    production: Production,
    ids: Iterable[int],
    places: Mapping[int, Store],
    moment: datetime,
    noted: Mapping[int, tuple[bool, frozenset[str]]] | None = None,
) -> list[RollCase]:
    """These rolls of a production with their verdicts, in this order.

    noted: whether each roll's card was cleared, and what is being worked on, where the caller knows
    """
    ids = list(ids)
    rule, noted = production.rule.as_rule(), _noted(ids) if noted is None else noted
    return [
        RollCase(standing, judge_roll(standing.facts, rule, moment), *noted[standing.roll.pk])
        for standing in roll_standings(ids, places).values()
        if standing.roll.production_id == production.pk
    ]


def roll_case(production: Production, tag: str) -> RollCase | None:
    pk = Roll.objects.filter(production=production, tag=tag).values_list("pk", flat=True)
    return next(iter(roll_cases(production, pk, places_of_all(), now())), None)


def open_runs_of(rolls: Iterable[int]) -> dict[int, frozenset[str]]:
    """By the roll's id: the subjects of its runs that have not ended."""
    found: dict[int, frozenset[str]] = {}
    rows = Run.objects.filter(roll__in=list(rolls), finished_at=None)
    for roll, subject in rows.values_list("roll", "subject"):
        found[roll] = found.get(roll, frozenset()) | {subject}
    return found


def _noted(ids: Iterable[int]) -> dict[int, tuple[bool, frozenset[str]]]:
    """By the roll's id: whether its card was cleared, and the subjects of its runs that have not ended."""
    rolls = Roll.objects.filter(pk__in=list(ids)).annotate(
        cleared=Case(When(erased(), then=Value(True)), default=Value(False)),
        open=ArraySubquery(Run.objects.filter(roll=OuterRef("pk"), finished_at=None).values("subject")),
    )
    return {pk: (cleared, frozenset(open_)) for pk, cleared, open_ in rolls.values_list("pk", "cleared", "open")}


def left_of(roll: Roll, most: int) -> list[str]:
    """The first names of what was left on the card when a roll was taken."""
    return list(LeftBehind.objects.filter(roll=roll).order_by("path").values_list("path", flat=True)[:most])
