"""What screens and acts read about offloads."""

from ruggedraft.core.errors import NotThere
from ruggedraft.productions.models import Production

from .models import Offload


def offload_of(production: Production, offload_id: int) -> Offload:
    """Raises NotThere."""
    found = Offload.objects.filter(roll__production=production, pk=offload_id).first()
    if found is None:
        raise NotThere(f"There is no such offload in {production.name}.")
    return found
