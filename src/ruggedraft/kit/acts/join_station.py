import re
import secrets
from dataclasses import dataclass

from django.db import connection, transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.wording import one_line
from ruggedraft.crew.accounts import kept_of
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Station, StationTicket
from ..stations import is_running

_NAME = re.compile(r"[\w][\w .-]{0,39}")
_NO_LONGER = "This ticket was used or has expired: make another one in Set-up."


@dataclass(frozen=True)
class Entry:
    """How a station that has joined speaks to the database."""

    role: str
    password: str


@transaction.atomic
def join_station(secret: str, name: str, *, origin: str) -> Entry:
    """Let one more station in, by a ticket, which ends with that. It gets a role of its own in the database.

    A station that was here before may join again under its name while it does not run; what it had before ends.
    Raises ActRefused.
    """
    name = one_line(name)
    if not _NAME.fullmatch(name):
        raise ActRefused("A station has a name of 1 to 40 letters, digits, spaces, dots and dashes.")
    # of two who use one ticket at once the second finds it used
    if not StationTicket.objects.filter(secret=kept_of(secret), used_at=None, until__gt=now()).update(used_at=now()):
        raise ActRefused(_NO_LONGER)
    station, new = Station.objects.select_for_update(no_key=True).get_or_create(name=name)
    if not new and not station.role:
        raise ActRefused(f"Station '{name}' is on the server's own machine: join under another name.")
    if not new and is_running(station):
        raise ActRefused(f"Station '{name}' is running: stop it first, or join under another name.")
    password = secrets.token_urlsafe(24)
    with connection.cursor() as cursor:
        cursor.execute("SELECT raft_let_station_in(%s, %s)", [station.pk, password])
        station.role = cursor.fetchone()[0]
    station.joined_at, station.joined_from, station.turned_away_at = now(), origin[:60], None
    station.save(update_fields=["role", "joined_at", "joined_from", "turned_away_at"])
    write("join station", name, f"Station '{name}' joined from {origin}.", person=None, origin=origin)
    changed(Topic.SETUP)
    return Entry(station.role, password)
