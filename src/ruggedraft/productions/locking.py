"""Locks that keep a verdict from being decided on half a change."""

from .models import Production


def hold_still(production_id: int) -> Production:
    """Lock one production until the end of the transaction. Returns it as it is now."""
    return Production.objects.select_for_update(no_key=True).get(pk=production_id)


def hold_all_still() -> None:
    """Lock every production, always in the same order: for what concerns them all, such as a device."""
    list(Production.objects.select_for_update(no_key=True).order_by("pk"))
