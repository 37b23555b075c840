from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import CardStanding
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still

from ..cases import case
from ..models import HandedBack


@transaction.atomic
def hand_back(person: Person, card: Card) -> HandedBack:
    """Note that a cleared card in no reader went back to its camera. From then on nobody knows what is on it."""
    require(person, May.SIGN)
    hold_still(card.owner.production_id)
    judged = case(card)
    if judged.standing is not CardStanding.CLEARED or judged.clearance is None:
        raise ActRefused(f"Card {card.label} is not clear: only a cleared card is handed back.")
    if judged.stay:
        raise ActRefused(f"Card {card.label} is in {judged.stay.slot}: taking it out hands it back.")
    given = HandedBack.objects.create(clearance_id=judged.clearance.id, person=person, at=now())
    write(
        "hand back",
        card.label,
        f"Card {card.label} was handed back.",
        person=person,
        production=card.owner.production_id,
    )
    changed(Topic.CARDS, cards=[card.label])
    return given
