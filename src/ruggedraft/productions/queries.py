"""What screens and acts read about productions, and which one an address means."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.db.models import F

from ruggedraft.core.errors import ActRefused, NotThere

from .models import Camera, Plan, Production, RedundancyRule, RuleChange, RuledThing


def production_named(slug: str) -> Production:
    """The production of an address, with its rule. Raises NotThere."""
    found = Production.objects.select_related("rule").filter(slug=slug).first()
    if found is None:
        raise NotThere(f"There is no production '{slug}' in this ledger.")
    return found


def productions() -> list[Production]:
    """Those that are open, the newest first; then those that are closed."""
    return list(Production.objects.order_by(F("closed_at").desc(nulls_first=True), "-id"))


def plan_of(production: Production, plan_id: int) -> Plan:
    """Raises NotThere."""
    found = Plan.objects.filter(production=production, pk=plan_id).first()
    if found is None:
        raise NotThere(f"There is no such plan in {production.name}.")
    return found


def plan_named(production: Production, name: str) -> Plan:
    """Raises NotThere."""
    found = Plan.objects.filter(production=production, name=name).first()
    if found is None:
        raise NotThere(f"There is no plan '{name}' in {production.name}.")
    return found


def chosen_plan(production: Production, name: str) -> Plan:
    """A plan that somebody names in an act. Raises ActRefused."""
    found = Plan.objects.filter(production=production, name=name).first()
    if found is None:
        raise ActRefused(f"There is no plan '{name}' in {production.name}.")
    return found


def camera_of(production: Production, letter: str) -> Camera:
    """Raises NotThere."""
    found = Camera.objects.filter(production=production, letter=letter).first()
    if found is None:
        raise NotThere(f"There is no camera {letter} in {production.name}.")
    return found


def rule_changes(production: Production, most: int) -> list[RuleChange]:
    """The last changes of its rule, newest first, with who made them."""
    return list(production.rule_changes.select_related("person").order_by("-pk")[:most])


def id_of_ruled(production: Production, kind: RuledThing, name: str) -> int:
    """Of a camera by its letter, or a plan by its name. Raises NotThere."""
    return camera_of(production, name).pk if kind is RuledThing.CAMERA else plan_named(production, name).pk


def exceptions_now(rule: RedundancyRule) -> list[Mapping[str, Any]]:
    """What a rule asks otherwise, each by the name that its camera or plan has now."""
    if not rule.exceptions:
        return []
    mine = {"production": rule.production_id}
    names: dict[str, dict[int, str]] = {
        RuledThing.CAMERA: dict(Camera.objects.filter(**mine).values_list("pk", "letter")),
        RuledThing.PLAN: dict(Plan.objects.filter(**mine).values_list("pk", "name")),
    }
    return [{**one, "name": names.get(one["on"], {}).get(one["of"], one["name"])} for one in rule.exceptions]


@dataclass(frozen=True)
class SetUp:
    """Everything of a production that somebody sets up."""

    cameras: tuple[Camera, ...]
    plans: tuple[Plan, ...]
    rigs: tuple[tuple[str, tuple[str, ...], int], ...]


def set_up_of(production: Production) -> SetUp:
    """rigs: name, letters of the cameras, number of the first shot."""
    rigs = production.rigs.prefetch_related("cameras")
    return SetUp(
        tuple(production.cameras.select_related("plan")),
        tuple(production.plans.prefetch_related("stores").order_by("name")),
        tuple((rig.name, tuple(camera.letter for camera in rig.cameras.all()), rig.first_shot) for rig in rigs),
    )
