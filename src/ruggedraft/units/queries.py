"""What screens read about units away."""

from ruggedraft.core.errors import ActRefused
from ruggedraft.productions.models import Production, UnitAway

from .models import UnitJoin, UnitSecret


def units_of(production: Production) -> list[UnitAway]:
    """Those that were sent out, and the one that this ledger is, newest first."""
    return list(UnitAway.objects.filter(production=production).select_related("by").order_by("-pk"))


def joins_of(production: Production) -> list[UnitJoin]:
    """What they handed in, newest first."""
    return list(UnitJoin.objects.filter(unit__production=production).select_related("unit", "by").order_by("-pk"))


def secret_of(unit: UnitAway) -> bytes:
    """What its files are sealed with. Raises ActRefused where this ledger has none of it."""
    found = UnitSecret.objects.filter(unit=unit).values_list("secret", flat=True).first()
    if found is None:
        raise ActRefused(f"This ledger does not know what unit {unit.name} seals its files with.")
    return bytes.fromhex(found)
