from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.evidence import Evidence
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..locking import hold_still
from ..models import RULE_PARTS, Production, RedundancyRule, RuleChange, RuledThing

_LEAST = {"copies": 1, "devices": 1, "locations": 1, "media": 1, "signers": 1}
_MOST = {"level": max(Evidence), "offsite": 100, "looked_at_percent": 100, **dict.fromkeys(_LEAST, 100)}
_OPTIONAL = ("fresh_days", "listing_within_minutes", "looked_within_minutes", "shelf_days")
_YES_OR_NO = ("keep_doubles", "chosen_only")

Parts = Mapping[str, int | bool | None]


@dataclass(frozen=True)
class RuleOn:
    """What a rule is changed for, where it is not the whole production. id: of its row. name: as people call it"""

    kind: RuledThing
    id: int
    name: str

    @property
    def words(self) -> str:
        """Such as "camera B"."""
        return self.name if self.kind is RuledThing.ROLL else f"{self.kind} {self.name}"


@transaction.atomic
def change_rule(
    person: Person, production: Production, wanted: Parts | None, reason: str, on: RuleOn | None = None
) -> RuleChange:
    """Change what a roll needs before its card may be reused; every verdict follows it from then on.

    wanted: the parts that change, by their names in `RedundancyRule`; None: nothing is asked of `on` but what is asked
    of every roll
    on: the camera, plan or roll of which something else is asked; None: the production
    """
    require(person, May.SET_UP, production.pk)
    hold_still(production.pk)
    if not reason.strip():
        raise ActRefused("Say why the rule changes: cards are cleared by it.")
    before = _data(RedundancyRule.objects.get(production=production))
    rule = rule_with(production, wanted, on)
    after = _data(rule)
    if after == before:
        raise ActRefused("Nothing of the rule would change.")
    rule.save()
    kept = RuleChange.objects.create(
        production=production, at=now(), person=person, reason=reason.strip()[:300], rule=after
    )
    told = ", ".join(f"{name} {before[name]} → {after[name]}" for name in RULE_PARTS if before[name] != after[name])
    if on:
        told = ", ".join(f"{name} {value}" for name, value in wanted.items()) if wanted else "as for every roll"
    whose = f" for {on.words}" if on else ""
    write("change rule", production.name, f"The rule of {production.name}{whose} changed: {told}. {kept.reason}",
          person=person, detail={"before": before, "after": after}, production=production.pk)  # fmt: skip
    changed(Topic.ROLLS, Topic.CARDS, Topic.SETUP)
    return kept


def rule_with(production: Production, wanted: Parts | None, on: RuleOn | None = None) -> RedundancyRule:
    """The rule as it would be with these parts changed; nothing is saved. Raises ActRefused."""
    rule = RedundancyRule.objects.get(production=production)
    for name, value in (wanted or {}).items():
        _refuse_nonsense(name, value)
        if on is None:
            setattr(rule, name, value)
    if on:
        rule.exceptions = _with_exception(rule.exceptions, wanted, on)
    return rule


def _with_exception(exceptions: list[dict[str, Any]], wanted: Parts | None, on: RuleOn) -> list[dict[str, Any]]:
    others = [one for one in exceptions if (one["on"], one["of"]) != (on.kind, on.id)]
    if wanted is None:
        return others
    same = next((one for one in exceptions if (one["on"], one["of"]) == (on.kind, on.id)), None)
    parts = {**(same["parts"] if same else {}), **wanted}
    return [*others, {"on": on.kind.value, "of": on.id, "name": on.name, "parts": parts}]


def _refuse_nonsense(name: str, value: int | bool | None) -> None:
    if name not in RULE_PARTS:
        raise ActRefused(f"There is no part '{name}' of a rule.")
    if value is None:
        if name not in _OPTIONAL:
            raise ActRefused(f"A rule needs a number for '{name}'.")
    elif name in _YES_OR_NO:
        if not isinstance(value, bool):
            raise ActRefused(f"'{name}' is asked for or not.")
    elif not _LEAST.get(name, 0) <= value <= _MOST.get(name, 100_000):
        raise ActRefused(f"{value} is no number for '{name}'.")


def _data(rule: RedundancyRule) -> dict[str, Any]:
    return rule.parts() | {"exceptions": rule.exceptions}
