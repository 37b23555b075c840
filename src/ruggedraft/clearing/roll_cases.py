"""How the rolls of a production stand: those that are not safe first."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime

from django.contrib.postgres.expressions import ArraySubquery
from django.db.models import Exists, OuterRef

from ruggedraft.core.redundancy import (
    RollState,
    RollVerdict,
    Rule,
    Step,
    judge_roll,
    roll_state,
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

from .models import Clearance


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


_ORDER = (RollState.BELOW, RollState.SHORT, RollState.SAFE)


@dataclass(frozen=True)
class Overview:
    """All rolls of a production by how they stand. states: by the roll's id, those to look at first before others."""

    states: Mapping[int, RollState]


def overview(production: Production, places: Mapping[int, Store], moment: datetime) -> Overview:
    """Of each group of rolls that stand alike one is judged; what it costs does not grow with the files."""
    rule = production.rule.as_rule()
    groups = alike(production, rule, moment, places)
    judged = [(group.rolls, judge_roll(group.one.facts, rule, moment).met) for group in groups]
    met = {pk: is_met for rolls, is_met in judged for pk in rolls}
    unmet = [pk for pk, is_met in met.items() if not is_met]
    cleared = _cleared(unmet)
    states = {
        pk: RollState.SAFE if is_met else RollState.BELOW if pk in cleared else RollState.SHORT
        for pk, is_met in met.items()
    }
    first = sorted(states, key=lambda pk: (_ORDER.index(states[pk]), -pk))
    return Overview({pk: states[pk] for pk in first})


def _cleared(rolls: Iterable[int]) -> set[int]:
    through = Clearance.rolls.through
    return set(through.objects.filter(roll__in=list(rolls)).values_list("roll_id", flat=True))


def roll_cases(
    production: Production, ids: Iterable[int], places: Mapping[int, Store], moment: datetime
) -> list[RollCase]:
    """These rolls of a production with their verdicts, in this order."""
    ids = list(ids)
    rule, noted = production.rule.as_rule(), _noted(ids)
    return [
        RollCase(standing, judge_roll(standing.facts, rule, moment), *noted[standing.roll.pk])
        for standing in roll_standings(ids, places).values()
        if standing.roll.production_id == production.pk
    ]


def roll_case(production: Production, tag: str) -> RollCase | None:
    pk = Roll.objects.filter(production=production, tag=tag).values_list("pk", flat=True)
    return next(iter(roll_cases(production, pk, places_of_all(), now())), None)


def _noted(ids: Iterable[int]) -> dict[int, tuple[bool, frozenset[str]]]:
    """By the roll's id: whether its card was cleared, and the subjects of its runs that have not ended."""
    rolls = Roll.objects.filter(pk__in=list(ids)).annotate(
        cleared=Exists(Clearance.rolls.through.objects.filter(roll=OuterRef("pk"))),
        open=ArraySubquery(Run.objects.filter(roll=OuterRef("pk"), finished_at=None).values("subject")),
    )
    return {pk: (cleared, frozenset(open_)) for pk, cleared, open_ in rolls.values_list("pk", "cleared", "open")}


@dataclass(frozen=True)
class Page:
    """Some of a production's rolls. after: what to ask for to get the next ones; None on the last page.

    in_all: how many there are that were asked for
    """

    rolls: tuple[RollCase, ...]
    after: str | None
    in_all: int


_A_PAGE = 60


def page_of_rolls(
    production: Production, places: Mapping[int, Store], *, after: str = "", search: str = "", most: int = _A_PAGE
) -> Page:
    """Rolls below the line first, then those short of the rule, then the safe ones; in each the newest first.

    after: from the page before. search: part of a roll's tag or of its card's label
    """
    moment = now()
    states = overview(production, places, moment).states
    found = _searched(production, search) if search else None
    wanted = [pk for pk in states if found is None or pk in found]
    behind = [pk for pk in wanted if not after or _place(states[pk], pk) > _from_words(after)]
    shown = behind[:most]
    rest = f"{_ORDER.index(states[shown[-1]])}-{shown[-1]}" if len(behind) > most else None
    return Page(tuple(roll_cases(production, shown, places, moment)), rest, len(wanted))


def _place(state: RollState, pk: int) -> tuple[int, int]:
    return _ORDER.index(state), -pk


def _from_words(after: str) -> tuple[int, int]:
    """A place in the order; the beginning, where the words are not ours."""
    state, _, pk = after.partition("-")
    return (int(state), -int(pk)) if state.isdecimal() and pk.isdecimal() else (-1, 0)


def _searched(production: Production, words: str) -> set[int]:
    rolls = Roll.objects.filter(production=production)
    by_tag, by_card = rolls.filter(tag__icontains=words), rolls.filter(card__label__icontains=words)
    return set(by_tag.values_list("pk", flat=True).union(by_card.values_list("pk", flat=True)))


def left_of(roll: Roll, most: int) -> list[str]:
    """The first names of what was left on the card when a roll was taken."""
    return list(LeftBehind.objects.filter(roll=roll).order_by("path").values_list("path", flat=True)[:most])
