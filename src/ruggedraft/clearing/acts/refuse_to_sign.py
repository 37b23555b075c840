from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card
from ruggedraft.productions.locking import hold_still

from ..cases import case
from ..models import Hold
from ..refusals import noted_when_refused
from .holds import place_hold


@noted_when_refused("refuse to sign")
@transaction.atomic
def refuse_to_sign(person: Person, card: Card, reason: str, *, digest: str) -> Hold:
    """Say no: the card is not cleared, whoever signed before, until this is taken back.

    digest: of the case that the person was shown
    """
    require(person, May.SIGN, card.owner.production_id)
    hold_still(card.owner.production_id)
    judged = case(card)
    if not judged.verdict.clearable:
        raise ActRefused(f"Nobody is asked to sign for card {card.label}: it is {judged.standing}.")
    if digest != judged.digest:
        raise ActRefused(f"Card {card.label} is not as you were shown any more: look again before you say no.")
    return place_hold(person, card, reason, refusal=True)
