"""What another rule would change: whose cards it would clear or un-clear, and which rolls would fall below the line."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from ruggedraft.core.redundancy import CardFacts, CardStanding, RollFacts, Rule, judge_card, judge_roll
from ruggedraft.journal.clock import now
from ruggedraft.productions.acts.change_rule import RuleOn
from ruggedraft.productions.models import Camera, Production, RedundancyRule, Ruled, RuledThing, rule_of
from ruggedraft.productions.queries import id_of_ruled
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.queries import roll_named
from ruggedraft.rolls.summaries import alike, places_of_all
from ruggedraft.stores.models import Store

from .cases import Case, active_cards, cases


@dataclass(frozen=True)
class CardChange:
    """Where a card stands, and where it would stand."""

    label: str
    before: CardStanding
    after: CardStanding


@dataclass(frozen=True)
class RuleEffect:
    """cards: those that would stand otherwise. falls, rises: tags of rolls that would no longer, or newly, meet it

    asked: the rule that was thought of, of the production or of what it was thought of for
    """

    asked: Rule
    cards: tuple[CardChange, ...]
    falls: tuple[str, ...]
    rises: tuple[str, ...]


def rule_on(production: Production, kind: RuledThing, name: str) -> RuleOn:
    """What something else is asked of. Raises NotThere."""
    by_roll = kind is RuledThing.ROLL
    return RuleOn(kind, roll_named(production, name).pk if by_roll else id_of_ruled(production, kind, name), name)


def effect_of(production: Production, wanted: RedundancyRule, on: RuleOn | None = None) -> RuleEffect:
    """Worked out from the facts as they are now, by the same judge as every verdict; nothing is kept.

    A clearance that was signed stays: what it says is what was so then.
    """
    places, ruled = places_of_all(), wanted.ruled()
    mine = active_cards().filter(camera__production=production)
    cards = [change for one in cases(mine, places) if (change := _card_change(one, ruled))]
    before, after = (_met(production, places, by) for by in (production.rule.ruled(), ruled))
    return RuleEffect(_asked(wanted, on), tuple(cards), _tags(before - after), _tags(after - before))


def _asked(wanted: RedundancyRule, on: RuleOn | None) -> Rule:
    mine = (one["parts"] for one in wanted.exceptions if on and (one["on"], one["of"]) == (on.kind, on.id))
    return rule_of(wanted.parts() | next(mine, {}))


def _card_change(one: Case, ruled: Ruled) -> CardChange | None:
    after = judge_card(_asked_otherwise(one, ruled), ruled.base, one.moment).standing
    return None if after is one.standing else CardChange(one.card.label, one.standing, after)


def _asked_otherwise(one: Case, ruled: Ruled) -> CardFacts:
    own = ruled.of(one.card.owner)
    ids = {standing.roll.tag: standing.roll for standing in one.rolls}
    rolls = tuple(_with_rule(roll, ids[roll.tag].camera, ids[roll.tag].pk, ruled) for roll in one.facts.rolls)
    return replace(one.facts, rolls=rolls, own_rule=None if own == ruled.base else own)


def _with_rule(roll: RollFacts, camera: Camera, roll_id: int, ruled: Ruled) -> RollFacts:
    own = ruled.own(camera, roll_id)
    return roll if roll.own_rule == own else replace(roll, own_rule=own)


def _met(production: Production, places: Mapping[int, Store], ruled: Ruled) -> set[int]:
    """Ids of rolls that meet what these rules ask of them. Those that stand alike are judged together."""
    moment, found = now(), set[int]()
    for group in alike(production, moment, places, ruled):
        roll = group.one.roll
        facts = _with_rule(group.one.facts, roll.camera, roll.pk, ruled)
        if judge_roll(facts, ruled.base, moment).met:
            found.update(group.rolls)
    return found


def _tags(rolls: set[int]) -> tuple[str, ...]:
    return tuple(Roll.objects.filter(pk__in=rolls).order_by("pk").values_list("tag", flat=True))
