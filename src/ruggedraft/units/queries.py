"""What screens read about units away."""

from ruggedraft.productions.models import Production, UnitAway

from .models import UnitJoin


def units_of(production: Production) -> list[UnitAway]:
    """Those that were sent out, and the one that this ledger is, newest first."""
    return list(UnitAway.objects.filter(production=production).select_related("by").order_by("-pk"))


def joins_of(production: Production) -> list[UnitJoin]:
    """What they handed in, newest first."""
    return list(UnitJoin.objects.filter(unit__production=production).select_related("unit", "by").order_by("-pk"))
