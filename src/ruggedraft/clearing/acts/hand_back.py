from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import CardStanding
from ruggedraft.core.wording import one_line
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card, Insertion
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still

from ..cases import case
from ..custody import say_holder
from ..models import HandedBack
from ..refusals import noted_when_refused


@noted_when_refused("hand a card back")
@transaction.atomic
def hand_back(person: Person, card: Card, to: str = "") -> HandedBack:
    """Note that a cleared card went back to its camera, and to whom. From then on nobody knows what is on it.

    to: who has it now. A card that was taken out of its reader after it was cleared went back by that; then it is said
    who has it, once for each time that it leaves.
    """
    require(person, May.SIGN, card.owner.production_id)
    hold_still(card.owner.production_id)
    judged = case(card)
    if judged.standing not in (CardStanding.CLEARED, CardStanding.OUT) or judged.clearance is None:
        raise ActRefused(f"Card {card.label} is not clear: only a cleared card is handed back.")
    if judged.stay:
        raise ActRefused(f"Card {card.label} is in {judged.stay.slot}: take it out first.")
    last = Insertion.objects.filter(card=card).latest("pk").pk
    said = HandedBack.objects.filter(clearance=judged.clearance.id)
    if said.filter(after__gte=last).exists():
        raise ActRefused(f"Card {card.label} was handed back already.")
    at = judged.clearance.handed_back_at or now()
    words = {"person": person, "at": at, "to": one_line(to)[:80], "after": last}
    given = HandedBack.objects.create(clearance_id=judged.clearance.id, **words)
    say_holder(card, person, outside=given.to or f"camera {card.owner.letter}")
    whom = f" to {given.to}" if given.to else ""
    write(
        "hand back",
        card.label,
        f"Card {card.label} was handed back{whom}.",
        person=person,
        production=card.owner.production_id,
    )
    changed(Topic.CARDS, cards=[card.label], production=card.owner.production_id)
    return given
