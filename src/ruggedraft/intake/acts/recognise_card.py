from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.stations import stations_away
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_all_still

from ..folders import FINALS, SEALED
from ..gone import note_gone
from ..identity import watched_stays, who_is_in
from ..models import Card, CardSerial, Insertion


@transaction.atomic
def recognise_card(person: Person, insertion: Insertion, label: str) -> Card:
    """Say that the card in a reader is one the ledger knows, though its serial does not say so."""
    require(person, May.INTRODUCE_CARD)
    hold_all_still()
    insertion = stay_still(insertion)
    if insertion.card_id:
        raise ActRefused("Which card this is was settled already.")
    card = Card.objects.filter(label__iexact=label.strip()).first()
    if card is None:
        raise ActRefused(f"There is no card {label} in the ledger.")
    if card.camera:
        require(person, May.INTRODUCE_CARD, card.camera.production_id)
    refuse_if_elsewhere(card, insertion)
    settle(insertion, card)
    write("recognise card", card.label, f"The card in {insertion.reader.name} was said to be {card.label}.",
          person=person, production=card.production_id)  # fmt: skip
    return card


@transaction.atomic
def recognise_by_content(insertion: Insertion) -> Card | None:
    """Settle which card this is where what is on it leaves no doubt; cards that share a serial are told apart so."""
    hold_all_still()
    insertion = Insertion.objects.select_for_update(no_key=True, of=("self",)).get(pk=insertion.pk)
    if insertion.removed_at or insertion.card_id:
        return None
    label = who_is_in(insertion).label
    card = Card.objects.filter(label=label).first() if label else None
    if card is None:
        return None
    settle(insertion, card)
    write("recognise card", card.label, f"The card in {insertion.reader.name} is {card.label} by what is on it.",
          person=None, origin=insertion.reader.station.name, production=card.production_id)  # fmt: skip
    return card


def stay_still(insertion: Insertion) -> Insertion:
    """The stay as it is now, kept as it is until the end of the transaction. Raises ActRefused if it has ended."""
    insertion = (
        Insertion.objects.select_for_update(no_key=True, of=("self",)).select_related("reader").get(pk=insertion.pk)
    )
    if insertion.removed_at:
        raise ActRefused("That card was taken out of its reader meanwhile. Nothing was changed.")
    return insertion


def refuse_if_elsewhere(card: Card, insertion: Insertion) -> None:
    """A card is in at most one reader."""
    others = watched_stays().filter(card=card).exclude(pk=insertion.pk).select_related("reader")
    other = others.first()
    if other:
        raise ActRefused(f"Card {card.label} is in {other.reader.name}: this one is another card.")


def settle(insertion: Insertion, card: Card) -> None:
    """This stay is this card's, and so is everything that was listed in it.

    What passed for a card, and is said to hold finals now, is no card from then on, so that nothing of it is cleared.
    Raises ActRefused where a package is to pass for a card: one would be cleared by what the other holds.
    """
    if (insertion.kind == SEALED) != (card.kind == SEALED):
        raise ActRefused(
            f"One of both is a sealed package, and no card: it is never {card.label}. Give it a name of its own."
        )
    end_unwatched_stays(card)
    if insertion.kind == FINALS and card.kind != FINALS:
        card.kind = FINALS
        card.save(update_fields=["kind"])
    insertion.card = card
    insertion.save(update_fields=["card"])
    insertion.listings.update(card=card)
    for listing in insertion.listings.order_by("id"):
        note_gone(listing)
    remember_serial(card, insertion.serial)
    changed(Topic.READERS, Topic.CARDS)


def end_unwatched_stays(card: Card) -> None:
    """It is in a reader here, so that it is in none of a machine that is away."""
    stays = Insertion.objects.filter(card=card, removed_at=None, reader__station__in=stations_away())
    for stay in stays.select_related("reader__station"):
        Insertion.objects.filter(pk=stay.pk).update(removed_at=now())
        words = f"Card {card.label} was not watched in {stay.reader.name}, and is in another reader."
        write("remove", card.label, words, person=None, origin=stay.reader.station.name,
              production=card.production_id)  # fmt: skip


def remember_serial(card: Card, serial: str) -> None:
    if serial:
        CardSerial.objects.get_or_create(card=card, serial=serial)
