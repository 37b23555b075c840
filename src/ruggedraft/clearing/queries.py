"""What acts read about what was said of cards and rolls."""

from ruggedraft.core.errors import NotThere
from ruggedraft.productions.models import Production

from .models import Hold


def hold_of(production: Production, hold_id: int) -> Hold:
    """Raises NotThere."""
    found = Hold.objects.select_related("roll").filter(roll__production=production, pk=hold_id).first()
    if found is None:
        raise NotThere(f"There is no such hold in {production.name}.")
    return found
