from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Insertion


@transaction.atomic
def use_whole_card(person: Person, insertion: Insertion) -> None:
    """Read the card from its root, where its reader shows only a folder inside it."""
    from ..tasks import read_inserted_card

    require(person, May.READ_CARD)
    insertion = Insertion.objects.select_for_update(no_key=True, of=("self",)).get(pk=insertion.pk)
    if insertion.removed_at or insertion.levels_up >= insertion.inside:
        raise ActRefused("This reader shows the whole card already.")
    insertion.levels_up = insertion.inside
    insertion.save(update_fields=["levels_up"])
    reader = insertion.reader
    name = insertion.card.label if insertion.card else insertion.serial
    write("use whole card", name, f"{reader.name} shows the inside of {name}; it is read from its root.",
          person=person, origin=reader.station.name,
          production=insertion.card.production_id if insertion.card else None)  # fmt: skip
    read_inserted_card.configure(queue=reader.station.name).defer(insertion_id=insertion.pk)
    changed(Topic.READERS)
