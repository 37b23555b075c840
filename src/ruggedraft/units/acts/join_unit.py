from django.db import transaction

from ruggedraft.clearing.refusals import noted_when_refused
from ruggedraft.core.wording import counted, first_of
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Production

from ..evidence import Evidence
from ..known import Joined, Known
from ..models import UnitJoin
from ..reading import read_handed_in
from ..things import Things
from ..words import Words


@noted_when_refused("take in what a unit handed in")
@transaction.atomic
def join_unit(person: Person, production: Production, data: bytes) -> UnitJoin:
    """Take in what a unit away did. The same file twice changes nothing; nothing here is overwritten.

    data: of the file. Raises ActRefused where it is not whole, not the unit's, or not of this production.
    """
    require(person, May.SET_UP, production.pk)
    said = read_handed_in(production, data)
    hold_still(production.pk)
    known = Known(person, production, said)
    for part in (Things(known), Evidence(known), Words(known)):
        part.take_in()
    done = known.done
    kept = UnitJoin.objects.create(
        unit=said.unit, by=person, at=now(), sha256=said.digest, rolls=len(done.rolls), copies=done.copies,
        conflicts=done.conflicts,
    )  # fmt: skip
    words = f"What unit {said.unit.name} did was taken in: {_what(done)}."
    detail: dict[str, object] = {"sha256": said.digest, "rolls": done.rolls, "conflicts": done.conflicts}
    write("join unit", said.unit.name, words, person=person, production=production.pk, detail=detail)
    changed(*Topic)
    return kept


def _what(done: Joined) -> str:
    if not done.rolls and not done.copies and not done.readings:
        rest = "; nothing was new"
    else:
        tags = f" ({first_of(done.rolls)})" if done.rolls else ""
        parts = (counted(len(done.rolls), "roll") + tags, counted(done.copies, "copy", "copies"))
        rest = ", ".join((*parts, counted(done.readings, "reading")))
    conflicts = f"; {counted(len(done.conflicts), 'conflict')}" if done.conflicts else ""
    return rest.removeprefix("; ") + conflicts
