from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.productions.locking import hold_all_still
from ruggedraft.productions.models import Camera

from ..models import Card, Insertion
from .recognise_card import settle, stay_still


@transaction.atomic
def introduce_card(
    person: Person, insertion: Insertion, *, label: str, camera: Camera, is_another: bool = False
) -> Card:
    """Bring the card in a reader into the ledger under the label that is written on it.

    is_another: it passed for a card that the ledger knows, and is not that one (twins share serial and size)
    """
    require(person, May.INTRODUCE_CARD, camera.production_id)
    hold_all_still()
    insertion = stay_still(insertion)
    label = label.strip()
    if insertion.card_id and not is_another:
        raise ActRefused("This card is in the ledger already.")
    if not label or len(label) > 40:
        raise ActRefused("A card needs the label that is written on it, of at most 40 characters.")
    if Card.objects.filter(label__iexact=label).exists():
        raise ActRefused(f"There is a card {label} already. If this is that card, say so instead of adding it.")
    if insertion.card_id:
        _take_from(insertion)
    card = Card.objects.create(label=label, kind=insertion.kind, capacity=insertion.capacity, camera=camera)
    settle(insertion, card)
    write(
        "introduce card",
        label,
        f"Card {label} was introduced for camera {camera.letter}.",
        person=person,
        production=camera.production_id,
    )
    return card


def _take_from(insertion: Insertion) -> None:
    """What was noted of the other card in this stay was never true of it. Raises ActRefused where work began on it."""
    other = insertion.card
    if other is None:
        return
    if other.offloads.filter(asked_at__gte=insertion.inserted_at).exists():
        raise ActRefused(f"Files of this card were taken as {other.label}'s already: clear that up first.")
    listings = insertion.listings.all()
    other.gone_files.filter(missed__in=listings).delete()
