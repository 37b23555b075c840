import secrets
from collections.abc import Mapping

from django.db import transaction

from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.core.wording import is_name, one_line
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Camera, Production, UnitAway
from ruggedraft.rolls.models import Roll

from ..models import UnitSecret

_HIGHEST = 99_999


@transaction.atomic
def send_unit(person: Person, production: Production, name: str, numbers: Mapping[str, tuple[int, int]]) -> UnitAway:
    """Keep roll numbers for a part of the crew that goes away with a ledger of its own.

    numbers: by camera's letter, first and last. Raises ActRefused where a number is used or kept already.
    """
    require(person, May.SET_UP, production.pk)
    hold_still(production.pk)
    name = one_line(name)
    if not is_name(name, 40):
        raise ActRefused("A unit has a name of 1 to 40 signs.")
    if UnitAway.objects.filter(production=production, name=name).exists():
        raise ActRefused(f"There was a unit {name} already: give this one another name.")
    if not numbers:
        raise ActRefused("Say of which cameras the unit numbers rolls, and from where to where.")
    for letter, (first, last) in numbers.items():
        _refuse_used(production, letter, first, last)
    unit = UnitAway.objects.create(
        production=production, name=name, by=person, at=now(),
        numbers={letter: list(span) for letter, span in numbers.items()},
    )  # fmt: skip
    UnitSecret.objects.create(unit=unit, secret=secrets.token_hex(32))
    kept = ", ".join(f"{letter} {first} to {last}" for letter, (first, last) in sorted(numbers.items()))
    words = f"Unit {name} goes away with a ledger of its own; rolls {kept} are kept for it."
    write("send unit", name, words, person=person, production=production.pk)
    changed(Topic.SETUP)
    return unit


def _refuse_used(production: Production, letter: str, first: int, last: int) -> None:
    if not Camera.objects.filter(production=production, letter=letter).exists():
        raise ActRefused(f"There is no camera {letter} in {production.name}.")
    if not 1 <= first <= last <= _HIGHEST:
        raise ActRefused(f"Numbers go from the first to the last, at most {_HIGHEST:,}: {first} to {last} do not.")
    used = Roll.objects.filter(production=production, camera__letter=letter, number__range=(first, last)).first()
    if used is not None:
        raise ActRefused(f"Roll {used.tag} is there already: keep other numbers of camera {letter}.")
    for unit in UnitAway.objects.filter(production=production, ended_at=None):
        kept = unit.numbers.get(letter)
        if kept and first <= kept[1] and kept[0] <= last:
            raise ActRefused(f"Numbers {kept[0]} to {kept[1]} of camera {letter} are kept for unit {unit.name}.")


@transaction.atomic
def end_unit(person: Person, production: Production, unit_id: int) -> None:
    """A unit is back: its numbers are free again. What it hands in later is taken all the same."""
    require(person, May.SET_UP, production.pk)
    unit = UnitAway.objects.select_for_update(no_key=True).filter(pk=unit_id, production=production, here=False).first()
    if unit is None:
        raise NotThere("There is no such unit.")
    if unit.ended_at is None:
        unit.ended_at = now()
        unit.save(update_fields=["ended_at"])
        words = f"Unit {unit.name} is back: numbers that it did not use are free again."
        write("end unit", unit.name, words, person=person, production=production.pk)
        changed(Topic.SETUP)
