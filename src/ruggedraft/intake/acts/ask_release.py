from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Card, Insertion
from ..queries import present_insertion


@transaction.atomic
def ask_release(person: Person, card: Card) -> None:
    """Have the reader let go of a card as soon as nothing reads it any more."""
    require(person, May.READ_CARD, card.owner.production_id)
    stay = present_insertion(card)
    if stay is None:
        raise ActRefused(f"Card {card.label} is in no reader.")
    if stay.release_asked_at and not stay.release_trouble:
        raise ActRefused(f"Card {card.label} is being let go of already: wait until it says that it may be pulled.")
    Insertion.objects.filter(pk=stay.pk).update(release_asked_at=now(), release_trouble="")
    words = f"{stay.reader.name} is to let go of card {card.label} as soon as nothing reads it."
    write("ask release", card.label, words, person=person, production=card.owner.production_id)
    changed(Topic.READERS)
