from collections.abc import Mapping
from datetime import date

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.wording import is_name, one_line
from ruggedraft.crew.models import Membership, Person, Role
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Camera, Plan, Production, RedundancyRule, RuledThing
from .change_production import checked_zone

_LONGEST = 80


@transaction.atomic
def open_production(person: Person, like: Production, *, name: str, time_zone: str, first_day: date) -> Production:
    """Begin another production with the rule, the plans, the cameras and the stores of one there is.

    Cards stay where they are, and so do people: whoever opens it is its first supervisor.

    Raises ActRefused.
    """
    require(person, May.SET_UP, like.pk)
    made = Production.objects.create(
        name=checked_production_name(name), time_zone=checked_zone(time_zone), first_day=first_day,
        day_starts_at=like.day_starts_at,
    )  # fmt: skip
    Membership.objects.create(person=person, production=made, role=Role.SUPERVISOR)
    made.shared_stores.set(like.shared_stores.all())
    plans = {plan.pk: _copied(plan, made) for plan in like.plans.all()}
    cameras = {
        camera.pk: Camera.objects.create(
            production=made, letter=camera.letter, name=camera.name, kind=camera.kind, plan=plans[camera.plan_id]
        )
        for camera in like.cameras.all()
    }
    _copy_rule(like, made, {RuledThing.PLAN: plans, RuledThing.CAMERA: cameras})
    words = f"{person.shown_name} opened {made.name}, with the rule, plans and cameras of {like.name}."
    write("open production", made.name, words, person=person, production=made.pk)
    changed(*Topic)
    return made


def _copy_rule(like: Production, to: Production, made: Mapping[str, Mapping[int, Plan] | Mapping[int, Camera]]) -> None:
    """What is asked otherwise of plans and cameras is asked of theirs; rolls are another production's.

    made: by kind, the plans and cameras of the new one by the ids of those they were made from
    """
    rule = RedundancyRule.objects.get(production=like)
    kept = [one for one in rule.exceptions if one["of"] in made.get(one["on"], {})]
    rule.pk, rule.production = None, to
    rule.exceptions = [{**one, "of": made[one["on"]][one["of"]].pk} for one in kept]
    rule.save(force_insert=True)


def checked_production_name(name: str) -> str:
    """A name that no other production has. Raises ActRefused."""
    name = one_line(name)
    if not is_name(name, _LONGEST):
        raise ActRefused(f"A production has a name of 1 to {_LONGEST} signs.")
    if Production.objects.filter(name__iexact=name).exists():
        raise ActRefused(f"There is a production {name} already.")
    return name


def _copied(plan: Plan, to: Production) -> Plan:
    stores = list(plan.stores.all())
    fresh = Plan.objects.get(pk=plan.pk)
    fresh.pk, fresh.production = None, to
    fresh.save(force_insert=True)
    fresh.stores.set(stores)
    return fresh
