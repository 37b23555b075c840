from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import CardStanding
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_all_still
from ruggedraft.productions.models import Camera

from ..cases import Case, case
from ..refusals import noted_when_refused


@noted_when_refused("give a card to another camera")
@transaction.atomic
def give_card(person: Person, card: Card, camera: Camera) -> None:
    """Say that a card is another camera's from now on. Rolls that were taken of it stay what they are.

    To another production it goes only when it owes this one nothing: it is judged by that one's rule from then on.
    Raises ActRefused.
    """
    require(person, May.INTRODUCE_CARD, card.owner.production_id, camera.production_id)
    hold_all_still()
    before = card.owner
    if before.pk == camera.pk:
        return
    judged = case(card)
    if judged.standing is CardStanding.RUNNING:
        raise ActRefused(f"Card {card.label} is being offloaded: wait until that has ended.")
    if before.production_id != camera.production_id and not _owes_nothing(judged):
        raise ActRefused(
            f"Card {card.label} is {judged.standing} in {before.production.name}: "
            "clear it there and hand it back first."
        )
    Card.objects.filter(pk=card.pk).update(camera=camera)
    words = f"Card {card.label} is camera {camera.letter}'s of {camera.production.name} now, not {before.letter}'s."
    for production in {before.production_id, camera.production_id}:
        write("give card", card.label, words, person=person, production=production)
    changed(Topic.SETUP, Topic.READERS, Topic.CARDS)


def _owes_nothing(judged: Case) -> bool:
    """A card of which a roll was taken, and that was not read here since, may still hold it."""
    if judged.standing is CardStanding.NEVER_READ:
        return not judged.card.rolls.exists()
    return judged.standing in (CardStanding.EMPTY, CardStanding.OUT)
