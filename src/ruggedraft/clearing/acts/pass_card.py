from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card
from ruggedraft.intake.queries import present_insertion
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Custody
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.rolls.acts.pass_device import checked_holder, said

from ..custody import holder_of, say_holder


@transaction.atomic
def pass_card(person: Person, card: Card, to: Person | None, *, outside: str = "", note: str = "") -> Custody:
    """Say who has a card now: somebody of the crew, somebody by name; or nobody, as it is back at the cart.

    It says nothing of whether the card may be formatted: whoever has one that is not clear is told so by its page.
    Raises ActRefused, also while it is in a reader.
    """
    require(person, May.CARRY, card.owner.production_id)
    card = Card.objects.select_for_update(no_key=True, of=("self",)).select_related("camera").get(pk=card.pk)
    stay = present_insertion(card)
    if stay:
        raise ActRefused(f"Card {card.label} is in {stay.reader.name}: take it out first.")
    outside = checked_holder(to, outside)
    last = holder_of(card)
    if last and (last.holder_id, last.outside) == (to.pk if to else None, outside):
        raise ActRefused(f"That was said already of card {card.label}. Nothing was changed.")
    given = say_holder(card, person, holder=to, outside=outside, note=note)
    name = to.shown_name if to else outside
    words = f"Card {card.label} is with {name} now." if name else f"Card {card.label} is back: nobody carries it."
    write("pass card", card.label, words + said(given.note), person=person, production=card.production_id)
    changed(Topic.CARDS, cards=[card.label], production=card.production_id)
    return given
