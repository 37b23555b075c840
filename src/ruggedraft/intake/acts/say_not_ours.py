from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Insertion, NotOurs


@transaction.atomic
def say_not_ours(person: Person, insertion: Insertion) -> None:
    """Say that an unknown card is none of ours: it lies in the reader, and nobody waits for it. For this stay only."""
    require(person, May.INTRODUCE_CARD)
    stay = _unknown(insertion)
    if stay.said_not_ours.filter(withdrawn_at=None).exists():
        raise ActRefused("Somebody has said so already.")
    NotOurs.objects.create(insertion=stay, person=person, at=now())
    _write("not ours", person, stay, "is none of ours: nothing on it is looked after")


@transaction.atomic
def say_ours_after_all(person: Person, insertion: Insertion) -> None:
    """Take that back: the card is asked about as any unknown one."""
    require(person, May.INTRODUCE_CARD)
    stay = _unknown(insertion)
    if not stay.said_not_ours.filter(withdrawn_at=None).update(withdrawn_at=now()):
        raise ActRefused("Nobody has said that this card is none of ours.")
    _write("ours after all", person, stay, "may be ours after all")


def _unknown(insertion: Insertion) -> Insertion:
    stay = (
        Insertion.objects.select_for_update(no_key=True, of=("self",))
        .select_related("reader__station")
        .get(pk=insertion.pk)
    )
    if stay.removed_at:
        raise ActRefused("The card was taken out of its reader.")
    if stay.card_id:
        raise ActRefused("This card is known here: it is one of ours.")
    return stay


def _write(act: str, person: Person, stay: Insertion, words: str) -> None:
    name = stay.serial or "no serial"
    sentence = f"The card in {stay.reader.name} ({name}) {words}."
    write(act, name, sentence, person=person, origin=stay.reader.station.name)
    changed(Topic.READERS, Topic.CARDS)
