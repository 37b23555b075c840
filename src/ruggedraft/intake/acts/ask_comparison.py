from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write

from ..models import Card
from ..queries import present_insertion


@transaction.atomic
def ask_comparison(person: Person, card: Card) -> None:
    """Have the station read every file of a card, to find by content what is held already."""
    from ..tasks import compare_inserted_card

    require(person, May.READ_CARD, card.owner.production_id)
    insertion = present_insertion(card)
    if insertion is None or card.camera is None:
        raise ActRefused(f"Card {card.label} is in no reader: put it into one.")
    station = insertion.reader.station.name
    write("compare card", card.label, f"Card {card.label} is read, to be compared by content.", person=person,
          origin=station, production=card.owner.production_id)  # fmt: skip
    compare_inserted_card.configure(queue=station).defer(
        insertion_id=insertion.pk, algorithm=card.camera.plan.algorithm
    )
