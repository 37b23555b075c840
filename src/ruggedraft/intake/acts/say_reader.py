from pathlib import Path

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.stores.volumes import Volume, volumes

from ..models import SaidReader
from ..mounts import MountTable


@transaction.atomic
def say_reader(person: Person, path: str, *, is_reader: bool, station: Station | None = None) -> None:
    """Say of what is mounted at a path that it is a card in a reader, or that it is none after all.

    From then on whatever hangs on that port is a card. Raises ActRefused for what may not be one.
    station: whose machine this is; None: the server's own
    """
    require(person, May.KEEP_STORES)
    volume = next((one for one in volumes() if one.path == path), None)
    port = MountTable().port_at(path)
    if volume is None or not port:
        raise ActRefused(f"Nothing is mounted at {path} any more. Nothing was changed.")
    if is_reader:
        _refuse_what_is_none(volume)
        _, made = SaidReader.objects.get_or_create(
            station=station, port=port, withdrawn_at=None, defaults={"person": person, "at": now()}
        )
        words = (
            f"What hangs on {port} is a card in a reader, says {person.shown_name}; it is {volume.label or path} now."
        )
    else:
        said = SaidReader.objects.filter(station=station, port=port, withdrawn_at=None)
        made = bool(said.update(withdrawn_at=now()))
        words = f"What hangs on {port} is no reader after all, says {person.shown_name}."
    if made:
        write("say reader", Path(path).name or path, words, person=person)
        changed(Topic.SETUP, Topic.READERS)


def _refuse_what_is_none(volume: Volume) -> None:
    if volume.system_disk:
        raise ActRefused("This computer's own disk is no card: nothing on it is ever handed back to a camera.")
    if volume.marked:
        raise ActRefused("It is marked as a store: copies are kept on it, and it is no card.")
    if volume.hangs:
        raise ActRefused("It does not answer: look at its plug and its lights. Nothing was changed.")
    if volume.server:
        raise ActRefused("A share of a server is no card.")
