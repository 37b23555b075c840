from collections.abc import Iterator

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.productions.models import Production, UnitAway

from ..export import handed_in


def hand_in(person: Person, production: Production) -> Iterator[bytes]:
    """Everything that this ledger, which is a unit's, knows of its production: line by line, for the one it joins.

    Raises ActRefused where this ledger is no unit's.
    """
    require(person, May.HAND_OVER, production.pk)
    unit = UnitAway.objects.filter(production=production, here=True).first()
    if unit is None:
        raise ActRefused(f"This ledger is no unit's: {production.name} was not begun here from a unit's set-up.")
    with transaction.atomic():
        words = f"{person.shown_name} exported what unit {unit.name} did, to be handed in."
        write("hand in", unit.name, words, person=person, production=production.pk)
    return handed_in(production, unit)
