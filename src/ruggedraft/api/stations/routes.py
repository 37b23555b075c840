"""The stations of this ledger: which are there, and how one more is let in or turned away."""

from django.conf import settings
from django.http import HttpRequest
from ninja import Router
from ninja.security import django_auth

from ruggedraft.core.errors import ActRefused
from ruggedraft.kit.acts.join_station import join_station
from ruggedraft.kit.acts.make_ticket import TICKET_LIFE, make_ticket
from ruggedraft.kit.acts.turn_away import turn_away
from ruggedraft.kit.stations import all_stations, running_stations, station_named
from ruggedraft.live.together import asked_together

from ..crew.routes import address_of
from ..screens import SeenAtScreen
from ..shapes import REFUSED, Done
from ..who import who
from .shapes import EntryOut, JoinIn, StationOut, TicketOut

router = Router(tags=["stations"])


@router.get("", response=list[StationOut], auth=[django_auth, SeenAtScreen()])
@asked_together
def stations(request: HttpRequest) -> list[StationOut]:
    running = running_stations()
    return [StationOut.of(station, running) for station in all_stations()]


@router.post("/tickets", response={200: TicketOut, **REFUSED})
def let_one_more_in(request: HttpRequest) -> TicketOut:
    return TicketOut(ticket=make_ticket(who(request)), minutes=round(TICKET_LIFE.total_seconds() / 60))


@router.post("/join", response={200: EntryOut, **REFUSED}, auth=None)
def join(request: HttpRequest, given: JoinIn) -> EntryOut:
    """Nobody is signed in on the machine that joins: the ticket alone lets it in, once."""
    if not settings.DOOR:
        raise ActRefused("The database of this server listens to no other machine.")
    secret, _, _ = given.ticket.partition(".")
    entry = join_station(secret, given.name, origin=address_of(request))
    return EntryOut.of(entry, str(settings.DATABASES["default"]["NAME"]), settings.DOOR)


@router.delete("/{name}", response={200: Done, **REFUSED})
def turn_station_away(request: HttpRequest, name: str) -> Done:
    turn_away(who(request), station_named(name))
    return Done()
