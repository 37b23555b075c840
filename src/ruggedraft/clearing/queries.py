"""What acts read about what was said of cards and rolls."""

from ruggedraft.checks.models import CheckRun
from ruggedraft.core.errors import NotThere
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll

from .models import Hold


def hold_of(production: Production, hold_id: int) -> Hold:
    """Raises NotThere."""
    found = Hold.objects.select_related("roll").filter(roll__production=production, pk=hold_id).first()
    if found is None:
        raise NotThere(f"There is no such hold in {production.name}.")
    return found


def stores_being_checked(roll: Roll) -> list[str]:
    """Names of the stores on which the roll's copy is being read again, or waits for that."""
    running = CheckRun.objects.filter(copy__roll=roll, finished_at=None)
    return list(running.values_list("copy__store__name", flat=True))
