from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.rolls.models import Roll

from ..due import undecoded
from ..models import DecodingAsked


@transaction.atomic
def ask_decoding(person: Person, roll: Roll) -> None:
    """Have all recordings of a roll decoded, every frame, behind everything else. Raises ActRefused where it has none.

    Asked again, they are decoded again.
    """
    require(person, May.CHECK, roll.production_id)
    DecodingAsked.objects.update_or_create(roll=roll, defaults={"by": person, "at": now()})
    recordings = undecoded().filter(roll=roll).count()
    if not recordings:
        raise ActRefused(f"There is no recording in {roll.tag} that could be decoded: no video, and no sound.")
    write("ask decoding", roll.tag, f"Do the {recordings} recordings of {roll.tag} decode, every frame?", person=person,
          production=roll.production_id)  # fmt: skip
    changed(Topic.PICTURES, rolls=[roll.tag], production=roll.production_id)
