"""What is not safe yet, in one line."""

from dataclasses import dataclass

from django.db.models import Exists, OuterRef

from ruggedraft.core.redundancy import (
    CardStanding,
    RollState,
    RollVerdict,
    bytes_short,
    judge_roll,
    roll_state,
)
from ruggedraft.intake.models import Insertion
from ruggedraft.journal.clock import now
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import LeftBehind, Roll
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.summaries import roll_standings

from .cases import Case, active_cards, cases
from .models import Clearance


@dataclass(frozen=True)
class RollCase:
    """cleared: its card was cleared, so that it lives on its stores alone."""

    standing: RollStanding
    verdict: RollVerdict
    cleared: bool

    @property
    def state(self) -> RollState:
        return roll_state(self.verdict, cleared=self.cleared)


def roll_cases(production: Production, *, tag: str | None = None) -> list[RollCase]:
    """A production's rolls, or the one with this tag, with verdicts: below the line first, then short, then newest."""
    cleared = Exists(Clearance.objects.filter(rolls=OuterRef("pk")))
    rolls = Roll.objects.filter(production=production).select_related("camera", "card").annotate(is_cleared=cleared)
    if tag is not None:
        rolls = rolls.filter(tag=tag)
    rolls = list(rolls)
    rule, moment = production.rule.as_rule(), now()
    found = [
        RollCase(standing, judge_roll(standing.facts, rule, moment), standing.roll.is_cleared)
        for standing in roll_standings(rolls)
    ]
    order = [RollState.BELOW, RollState.SHORT, RollState.SAFE]
    return sorted(found, key=lambda c: (order.index(c.state), -c.standing.roll.pk))


def left_of(roll: Roll, most: int) -> list[str]:
    """The first names of what was left on the card when a roll was taken."""
    return list(LeftBehind.objects.filter(roll=roll).order_by("path").values_list("path", flat=True)[:most])


@dataclass(frozen=True)
class Waterline:
    """cards_waiting: cards with something on them that no copy holds.

    bytes_short: bytes that still need copying to satisfy the rule, those of cards not yet offloaded included
    """

    cards_waiting: tuple[str, ...]
    bytes_short: int
    rolls_short: tuple[str, ...]
    rolls_below: tuple[str, ...]
    runs: int


def waterline(production: Production) -> Waterline:
    rolls, cards = roll_cases(production), cases(active_cards().filter(camera__production=production))
    rule, moment = production.rule.as_rule(), now()
    short = sum(bytes_short(one.standing.facts, rule, moment) for one in rolls if one.state is not RollState.SAFE)
    untaken = sum(max(file.size, 0) for case in cards for file in case.verdict.strangers)
    return Waterline(
        cards_waiting=(*(c.card.label for c in cards if _waits(c)), *_unknown_cards()),
        bytes_short=short + untaken * rule.copies,
        rolls_short=tuple(c.standing.roll.tag for c in rolls if c.state is RollState.SHORT),
        rolls_below=tuple(c.standing.roll.tag for c in rolls if c.state is RollState.BELOW),
        runs=Offload.objects.filter(finished_at=None, roll__production=production).count(),
    )


def _unknown_cards() -> list[str]:
    """A card that nobody has introduced yet may hold anything."""
    strangers = Insertion.objects.filter(card=None, removed_at=None).select_related("reader")
    return [f"unknown in {stay.reader.name}" for stay in strangers]


def _waits(case: Case) -> bool:
    return case.standing in (CardStanding.UNREAD, CardStanding.GONE) or case.verdict.unsaved
