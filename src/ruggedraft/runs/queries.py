"""What screens and acts read about runs."""

from ruggedraft.core.errors import NotThere
from ruggedraft.productions.models import Production

from .models import Run


def run_of(production: Production, run_id: int) -> Run:
    """Raises NotThere."""
    found = Run.objects.filter(roll__production=production, pk=run_id).first()
    if found is None:
        raise NotThere(f"There is no such run in {production.name}.")
    return found
