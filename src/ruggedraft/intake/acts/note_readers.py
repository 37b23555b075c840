from collections.abc import Iterable

from django.db import transaction

from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_all_still

from ..identity import who_is_in
from ..models import Card, Insertion, Reader
from ..readers import CardSeen, Slot
from .recognise_card import end_unwatched_stays


@transaction.atomic
def note_readers(station: Station, slots: Iterable[Slot]) -> list[Insertion]:
    """Bring the ledger in line with what the station's slots hold now; returns the stays that have just begun."""
    Station.objects.select_for_update(no_key=True).get(pk=station.pk)
    by_port = {slot.port: slot for slot in slots}
    _end_readers_gone(station, set(by_port))
    stays = [(slot, *_present(_reader(station, slot))) for slot in by_port.values()]
    if any(_is_news(slot, present) for slot, _, present in stays):
        hold_all_still()
    _end_those_that_left(stays)  # first: a card may have gone from one slot to another
    return [_begin(reader, slot.card) for slot, reader, present in stays if slot.card and not _goes_on(present, slot)]


def _goes_on(present: Insertion | None, slot: Slot) -> bool:
    return present is not None and _is_same(present, slot.card)


@transaction.atomic
def forget_stays(station: Station) -> None:
    """End every stay: nobody was looking for a while, and a card may have been taken out and put in again."""
    hold_all_still()
    for reader in Reader.objects.filter(station=station).select_related("station"):
        _, present = _present(reader)
        if present:
            _end(present, reader, words="was not watched in")


def _is_news(slot: Slot, present: Insertion | None) -> bool:
    return bool(slot.card) != bool(present) or (present is not None and not _is_same(present, slot.card))


def _end_those_that_left(stays: Iterable[tuple[Slot, Reader, Insertion | None]]) -> None:
    for slot, reader, present in stays:
        if present and not _goes_on(present, slot):
            _end(present, reader)


def _present(reader: Reader) -> tuple[Reader, Insertion | None]:
    return reader, Insertion.objects.filter(reader=reader, removed_at=None).select_related("card").first()


def _is_same(present: Insertion, seen: CardSeen | None) -> bool:
    return seen is not None and (seen.serial, seen.token) == (present.serial, present.token)


def _reader(station: Station, slot: Slot) -> Reader:
    """Known by the port it hangs on: two readers of one model share a name, and never a port."""
    found = {"name": slot.name, "path": slot.path, "gone_at": None}
    reader, new = Reader.objects.get_or_create(station=station, port=slot.port, defaults=found)
    found["name"] = reader.called or slot.name
    if not new and any(getattr(reader, name) != value for name, value in found.items()):
        Reader.objects.filter(pk=reader.pk).update(**found)
        reader.refresh_from_db()
        changed(Topic.READERS)
    return reader


def _end_readers_gone(station: Station, there: set[str]) -> None:
    for reader in Reader.objects.filter(station=station, gone_at=None).exclude(port__in=there):
        _, present = _present(reader)
        if present:
            hold_all_still()
            _end(present, reader)
        reader.gone_at = now()
        reader.save(update_fields=["gone_at"])
        changed(Topic.READERS)


def _begin(reader: Reader, seen: CardSeen) -> Insertion:
    insertion = Insertion.objects.create(
        reader=reader, serial=seen.serial, kind=seen.kind, capacity=seen.capacity, volume=seen.volume,
        largest_file=seen.largest_file, token=seen.token, inserted_at=now(), trouble=seen.trouble,
    )  # fmt: skip
    answer = who_is_in(insertion)
    if answer.label:
        insertion.card = Card.objects.select_related("camera").get(label=answer.label)
        end_unwatched_stays(insertion.card)
        insertion.save(update_fields=["card"])
    name = answer.label or seen.serial or "no serial"
    what = f"Card {answer.label}" if answer.label else f"An unknown card ({name})"
    write("insert", name, f"{what} was put into {reader.name}.", person=None, origin=reader.station.name,
          production=insertion.card.production_id if insertion.card else None)  # fmt: skip
    changed(Topic.READERS, Topic.CARDS)
    return insertion


def _end(insertion: Insertion, reader: Reader, words: str = "was taken out of") -> None:
    if insertion.released_at:
        words = "was let go of, and may be pulled from"
    insertion.removed_at = now()
    insertion.save(update_fields=["removed_at"])
    name = insertion.card.label if insertion.card else insertion.serial
    write("remove", name, f"Card {name} {words} {reader.name}.", person=None, origin=reader.station.name,
          production=insertion.card.production_id if insertion.card else None)  # fmt: skip
    changed(Topic.READERS, Topic.CARDS)
