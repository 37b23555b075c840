from collections.abc import Mapping

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
from ..models import Production, RedundancyRule, RuleChange

_PARTS = tuple(f.name for f in RedundancyRule._meta.fields if f.name not in ("id", "production"))
_LEAST = {"copies": 1, "devices": 1, "locations": 1, "media": 1, "signers": 1}
_MOST = {"level": max(Evidence), "offsite": 100, **dict.fromkeys(_LEAST, 100)}
_OPTIONAL = ("fresh_days", "listing_within_minutes", "looked_within_minutes", "shelf_days")


@transaction.atomic
def change_rule(person: Person, production: Production, wanted: Mapping[str, int | None], reason: str) -> RuleChange:
    """Change what a roll needs before its card may be reused; every verdict follows it from then on.

    wanted: the parts that change, by their names in `RedundancyRule`
    """
    require(person, May.SET_UP)
    hold_still(production.pk)
    if not reason.strip():
        raise ActRefused("Say why the rule changes: cards are cleared by it.")
    before = _data(RedundancyRule.objects.get(production=production))
    rule = rule_with(production, wanted)
    if _data(rule) == before:
        raise ActRefused("Nothing of the rule would change.")
    rule.save()
    kept = RuleChange.objects.create(
        production=production, at=now(), person=person, reason=reason.strip()[:300], rule=_data(rule)
    )
    told = ", ".join(f"{name} {before[name]} → {value}" for name, value in _data(rule).items() if before[name] != value)
    write("change rule", production.name, f"The rule of {production.name} changed: {told}. {kept.reason}",
          person=person, detail={"before": before, "after": _data(rule)}, production=production.pk)  # fmt: skip
    changed(Topic.ROLLS, Topic.CARDS, Topic.SETUP)
    return kept


def rule_with(production: Production, wanted: Mapping[str, int | None]) -> RedundancyRule:
    """The rule as it would be with these parts changed; nothing is saved. Raises ActRefused."""
    rule = RedundancyRule.objects.get(production=production)
    for name, value in wanted.items():
        _refuse_nonsense(name, value)
        setattr(rule, name, value)
    return rule


def _refuse_nonsense(name: str, value: int | None) -> None:
    if name not in _PARTS:
        raise ActRefused(f"There is no part '{name}' of a rule.")
    if value is None:
        if name not in _OPTIONAL:
            raise ActRefused(f"A rule needs a number for '{name}'.")
    elif not _LEAST.get(name, 0) <= value <= _MOST.get(name, 100_000):
        raise ActRefused(f"{value} is no number for '{name}'.")


def _data(rule: RedundancyRule) -> dict[str, int | None]:
    return {name: getattr(rule, name) for name in _PARTS}
