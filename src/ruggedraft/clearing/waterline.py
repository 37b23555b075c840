"""What is not safe yet, in one line."""

from dataclasses import dataclass

from django.db.models import Exists, OuterRef, Subquery

from ruggedraft.core.redundancy import Block, RollVerdict, judge_roll
from ruggedraft.intake.models import Insertion
from ruggedraft.journal.clock import now
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.queries import RollStanding, roll_standings

from .cases import Case, Standing, active_cards, cases
from .models import Clearance


@dataclass(frozen=True)
class RollCase:
    """cleared: its card was cleared, so that it lives on its stores alone. below: and the rule is not met any more.

    unread: files of the card that its last run could not read; none after a clearance, which covered or waived them
    """

    standing: RollStanding
    verdict: RollVerdict
    cleared: bool
    unread: int

    @property
    def met(self) -> bool:
        """The rule is met by copies of everything the card held: copies of half a card are no copies of the roll."""
        return not self.blocks

    @property
    def blocks(self) -> tuple[Block, ...]:
        if not self.unread:
            return self.verdict.blocks
        words = "1 file of the card was" if self.unread == 1 else f"{self.unread:,} files of the card were"
        return (Block("unread", f"{words} not read", self.unread), *self.verdict.blocks)

    @property
    def below(self) -> bool:
        return self.cleared and not self.met


def roll_cases(production: Production, *, tag: str | None = None) -> list[RollCase]:
    """A production's rolls, or the one with this tag, with verdicts: below the line first, then unmet, then newest."""
    cleared = Exists(Clearance.objects.filter(roll=OuterRef("pk")))
    last_run = Offload.objects.filter(roll=OuterRef("pk")).exclude(finished_at=None).order_by("-id")
    rolls = Roll.objects.filter(production=production).select_related("camera", "card")
    rolls = rolls.annotate(is_cleared=cleared, unread=Subquery(last_run.values("unread_files")[:1]))
    if tag is not None:
        rolls = rolls.filter(tag=tag)
    rule, moment = production.rule.as_rule(), now()
    found = [
        RollCase(standing, judge_roll(standing.facts, rule, moment), standing.roll.is_cleared, _unread(standing.roll))
        for standing in roll_standings(rolls)
    ]
    return sorted(found, key=lambda c: (not c.below, c.met, -c.standing.roll.pk))


def _unread(roll: Roll) -> int:
    return 0 if roll.is_cleared else roll.unread or 0


@dataclass(frozen=True)
class Waterline:
    """cards_waiting: cards with something on them that no copy holds. bytes_short: bytes of rolls short of the rule."""

    cards_waiting: tuple[str, ...]
    bytes_short: int
    rolls_short: tuple[str, ...]
    rolls_below: tuple[str, ...]
    runs: int


def waterline(production: Production) -> Waterline:
    rolls = roll_cases(production)
    waiting = [c.card.label for c in cases(active_cards()) if c.standing is Standing.UNREAD or _has_uncovered(c)]
    return Waterline(
        cards_waiting=(*waiting, *_unknown_cards()),
        bytes_short=sum(c.standing.facts.bytes for c in rolls if not c.met),
        rolls_short=tuple(c.standing.roll.tag for c in rolls if not c.met and not c.cleared),
        rolls_below=tuple(c.standing.roll.tag for c in rolls if c.below),
        runs=Offload.objects.filter(finished_at=None).count(),
    )


def _unknown_cards() -> list[str]:
    """A card that nobody has introduced yet may hold anything."""
    strangers = Insertion.objects.filter(card=None, removed_at=None).select_related("reader")
    return [f"unknown in {stay.reader.name}" for stay in strangers]


def _has_uncovered(case: Case) -> bool:
    return any(block.kind in ("uncovered", "revoked") for block in case.blocks)
