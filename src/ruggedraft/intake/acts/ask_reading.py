from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require

from ..models import Card
from ..queries import present_insertion


@transaction.atomic
def ask_reading(person: Person, card: Card) -> None:
    """Have the station that holds the card list it again."""
    from ..tasks import read_inserted_card

    require(person, May.READ_CARD, card.owner.production_id)
    insertion = present_insertion(card)
    if insertion is None:
        raise ActRefused(f"Card {card.label} is in no reader: put it into one.")
    read_inserted_card.configure(queue=insertion.reader.station.name).defer(insertion_id=insertion.pk)
