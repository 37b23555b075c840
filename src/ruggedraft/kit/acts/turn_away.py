from django.db import connection, transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require_everywhere
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Station


@transaction.atomic
def turn_away(person: Person, station: Station) -> None:
    """Let a station in no more, from this moment; what it was doing stops. It may join again with another ticket.

    Raises ActRefused.
    """
    require_everywhere(person, May.SET_UP)
    if not station.role:
        raise ActRefused(f"Station '{station.name}' is on the server's own machine, and goes with it.")
    if station.turned_away_at:
        raise ActRefused(f"Station '{station.name}' was turned away already.")
    Station.objects.filter(pk=station.pk).update(turned_away_at=now())
    write("turn station away", station.name, f"{person.shown_name} turned station '{station.name}' away.",
          person=person)  # fmt: skip
    changed(Topic.SETUP, Topic.READERS)
    with connection.cursor() as cursor:
        cursor.execute("SELECT raft_turn_station_away(%s)", [station.pk])
