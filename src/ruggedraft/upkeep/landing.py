"""Which rolls may leave a landing area: those that the stores of their plan hold without it."""

from datetime import timedelta

from ruggedraft.core.redundancy import CopyFacts, Rule, judge_roll, rule_for
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.rolls.models import Copy
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.runs.models import Run
from ruggedraft.stores.queries import store_facts

from .orders import Places, open_orders, still_needs

_LOOKED_WITHIN = timedelta(hours=1)
"""Stations look at each copy every half hour: where one is connected and was not looked at, something is amiss."""


def copies_on_landing(station: Station, places: Places) -> list[Copy]:
    """Those on landing areas that this station sees, oldest first."""
    here = [pk for pk, store in places.items() if store.landing and store_facts(store, station).online]
    copies = Copy.objects.filter(store__in=here, readings__isnull=False).distinct().order_by("pk")
    return list(copies.select_related("roll__production__rule", "roll__camera__plan", "store__device")) if here else []


def not_taken_away(station: Station, places: Places) -> list[Copy]:
    """Copies that left a store that this station sees, and whose files were not all taken away there."""
    here = [pk for pk, store in places.items() if store_facts(store, station).online]
    left = Copy.every.filter(store__in=here, left_at__isnull=False, emptied_at=None).order_by("pk")
    return list(left.select_related("roll", "store__device"))


def may_leave(copy: Copy) -> bool:
    """By everything that was ever noted: nothing is taken away on a summary.

    The store is a landing area; nothing is being done with the roll; its rule is met without it; every store of its
    plan that counts holds it as strongly as the rule asks; and no standing order has still to bring it from there.
    """
    places = places_of_all()
    roll = copy.roll
    if not places[copy.store_id].landing or Run.objects.filter(roll=roll, finished_at=None).exists():
        return False
    (standing,) = roll_standings([roll.pk], places, in_full=True).values()
    rule = rule_for(standing.facts, roll.production.rule.as_rule())
    if not judge_roll(standing.facts, rule, now()).met or not _plan_holds_it(copy, standing, rule):
        return False
    return not any(still_needs(order, copy.store, standing, places) for order in open_orders(roll.production))


def _plan_holds_it(copy: Copy, standing: RollStanding, rule: Rule) -> bool:
    wanted = [store for store in copy.roll.camera.plan.stores.all() if store.counts]
    held = {one.store.pk: one.facts for one in standing.copies}
    return bool(wanted) and all(store.pk in held and _is_held(held[store.pk], rule.level) for store in wanted)


def _is_held(facts: CopyFacts, level: int) -> bool:
    if not facts.whole or facts.level < level or facts.store.lost:
        return False
    return not facts.store.online or (facts.looked_at is not None and facts.looked_at > now() - _LOOKED_WITHIN)
