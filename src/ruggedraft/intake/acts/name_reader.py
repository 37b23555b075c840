from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.wording import is_name, one_line
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Reader

_LONGEST = 40


@transaction.atomic
def name_reader(person: Person, reader: Reader, name: str) -> None:
    """Call a reader by a name of its own, wherever it is shown. Empty: as the system calls it, from the next look on.

    Raises ActRefused for a name that another reader of its station has.
    """
    require(person, May.KEEP_STORES)
    reader = Reader.objects.select_for_update(no_key=True, of=("self",)).select_related("station").get(pk=reader.pk)
    name = one_line(name)
    if name and not is_name(name, _LONGEST):
        raise ActRefused(f"A reader's name has at most {_LONGEST} signs.")
    others = Reader.objects.filter(station=reader.station, gone_at=None).exclude(pk=reader.pk)
    if name and others.filter(name__iexact=name).exists():
        raise ActRefused(f"There is a reader called {name} at {reader.station.name} already.")
    before, reader.called, reader.name = reader.name, name, name or reader.name
    reader.save(update_fields=["called", "name"])
    words = f"Reader {before} at {reader.station.name} is called {name or 'as the system calls it'} now."
    write("name reader", reader.name, words, person=person, origin=reader.station.name)
    changed(Topic.READERS, Topic.SETUP)
