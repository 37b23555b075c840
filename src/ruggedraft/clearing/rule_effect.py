"""What another rule would change: whose cards it would clear or un-clear, and which rolls would fall below the line."""

from dataclasses import dataclass

from ruggedraft.core.redundancy import CardStanding, Rule, judge_card, judge_roll
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.summaries import places_of_all, roll_standings

from .cases import active_cards, cases


@dataclass(frozen=True)
class CardChange:
    """Where a card stands, and where it would stand."""

    label: str
    before: CardStanding
    after: CardStanding


@dataclass(frozen=True)
class RuleEffect:
    """cards: those that would stand otherwise. falls, rises: tags of rolls that would no longer, or newly, meet it"""

    cards: tuple[CardChange, ...]
    falls: tuple[str, ...]
    rises: tuple[str, ...]


def effect_of(production: Production, wanted: Rule) -> RuleEffect:
    """Worked out from the facts as they are now, by the same judge as every verdict; nothing is kept.

    A clearance that was signed stays: what it says is what was so then.
    """
    moment, places = now(), places_of_all()
    mine = active_cards().filter(camera__production=production)
    cards = []
    for one in cases(mine, places):
        after = judge_card(one.facts, wanted, one.moment).standing
        if after is not one.standing:
            cards.append(CardChange(one.card.label, one.standing, after))
    falls, rises = [], []
    rolls = Roll.objects.filter(production=production).order_by("pk").values_list("pk", flat=True)
    rule = production.rule.as_rule()
    for standing in roll_standings(rolls, places).values():
        met, would = (judge_roll(standing.facts, by, moment).met for by in (rule, wanted))
        if met and not would:
            falls.append(standing.roll.tag)
        elif would and not met:
            rises.append(standing.roll.tag)
    return RuleEffect(tuple(cards), tuple(falls), tuple(rises))
