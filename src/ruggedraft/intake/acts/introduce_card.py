from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Camera

from ..models import Card, Insertion
from .recognise_card import remember_serial


@transaction.atomic
def introduce_card(person: Person, insertion: Insertion, *, label: str, camera: Camera) -> Card:
    """Bring the unknown card in a reader into the ledger under the label that is written on it."""
    require(person, May.INTRODUCE_CARD)
    insertion = Insertion.objects.select_for_update(of=("self",)).get(pk=insertion.pk)
    label = label.strip()
    if insertion.card_id:
        raise ActRefused("This card is in the ledger already.")
    if not label or len(label) > 40:
        raise ActRefused("A card needs the label that is written on it, of at most 40 characters.")
    if Card.objects.filter(label__iexact=label).exists():
        raise ActRefused(f"There is a card {label} already. If this is that card, say so instead of adding it.")
    card = Card.objects.create(label=label, kind=insertion.kind, capacity=insertion.capacity, camera=camera)
    remember_serial(card, insertion.serial)
    insertion.card = card
    insertion.save(update_fields=["card"])
    insertion.listings.update(card=card)
    write("introduce card", label, f"Card {label} was introduced for camera {camera.letter}.", person=person)
    changed("readers", "cards")
    return card
