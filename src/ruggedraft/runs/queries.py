"""What screens and acts read about runs."""

from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.core.runs import RunKind
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll

from .models import Run


def refuse_while_room_is_made(roll: Roll) -> None:
    """Whatever brings files to a copy waits until none are being taken off: it would claim what is about to go.

    Inside a transaction that holds the roll's production still. Raises ActRefused.
    """
    run = Run.objects.filter(roll=roll, kind=RunKind.MAKE_ROOM, finished_at=None).first()
    if run:
        raise ActRefused(f"Room is being made of {roll.tag}: wait until that has ended, or cancel it.")


def run_of(production: Production, run_id: int) -> Run:
    """Raises NotThere."""
    found = Run.objects.filter(roll__production=production, pk=run_id).first()
    if found is None:
        raise NotThere(f"There is no such run in {production.name}.")
    return found
