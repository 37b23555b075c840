"""What is not safe yet, in one line."""

from dataclasses import dataclass

from ruggedraft.core.redundancy import CardStanding, RollState, bytes_short
from ruggedraft.intake.models import Insertion
from ruggedraft.journal.clock import now
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Production
from ruggedraft.rolls.summaries import places_of_all

from .cases import Case, active_cards, cases
from .roll_cases import overview, roll_cases


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
    rule, moment, places = production.rule.as_rule(), now(), places_of_all()
    states = overview(production, places, moment).states
    rolls = roll_cases(production, [pk for pk, state in states.items() if state is not RollState.SAFE], places, moment)
    on_cards = cases(active_cards().filter(camera__production=production), places)
    short = sum(bytes_short(one.standing.facts, rule, moment) for one in rolls)
    untaken = sum(case.verdict.strangers.bytes for case in on_cards)
    return Waterline(
        cards_waiting=(*(c.card.label for c in on_cards if _waits(c)), *_unknown_cards()),
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
