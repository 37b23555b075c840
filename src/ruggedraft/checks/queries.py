"""What screens read about checks."""

from ruggedraft.rolls.models import Roll

from .models import CheckRun


def open_checks(roll: Roll) -> list[CheckRun]:
    """Checks of the roll's copies that wait or are under way, with their stores."""
    return list(CheckRun.objects.filter(roll=roll, finished_at=None).select_related("copy__store").order_by("id"))
