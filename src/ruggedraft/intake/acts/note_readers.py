from collections.abc import Iterable

from django.db import transaction

from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.notify import changed

from ..models import Card, Insertion, Reader, Station
from ..readers import CardSeen, Slot


@transaction.atomic
def note_readers(station: Station, slots: Iterable[Slot]) -> list[Insertion]:
    """Bring the ledger in line with what the station's slots hold now; returns the stays that have just begun."""
    Station.objects.select_for_update().get(pk=station.pk)
    begun = []
    for slot in slots:
        reader, _ = Reader.objects.get_or_create(station=station, name=slot.name, defaults={"path": slot.path})
        if reader.path != slot.path:
            reader.path = slot.path
            reader.save(update_fields=["path"])
        present = Insertion.objects.filter(reader=reader, removed_at=None).select_related("card").first()
        if present and (slot.card is None or slot.card.serial != present.serial):
            _end(present, reader)
            present = None
        if slot.card and present is None:
            begun.append(_begin(reader, slot.card))
    return begun


def _begin(reader: Reader, seen: CardSeen) -> Insertion:
    card = Card.objects.filter(serial=seen.serial).first()
    insertion = Insertion.objects.create(
        reader=reader, card=card, serial=seen.serial, kind=seen.kind, capacity=seen.capacity, inserted_at=now()
    )
    what = f"Card {card.label}" if card else f"An unknown card ({seen.serial})"
    write("insert", card.label if card else seen.serial, f"{what} was put into {reader.name}.", person=None,
          origin=reader.station.name)  # fmt: skip
    changed("readers", "cards")
    return insertion


def _end(insertion: Insertion, reader: Reader) -> None:
    insertion.removed_at = now()
    insertion.save(update_fields=["removed_at"])
    name = insertion.card.label if insertion.card else insertion.serial
    write("remove", name, f"Card {name} was taken out of {reader.name}.", person=None, origin=reader.station.name)
    changed("readers", "cards")
