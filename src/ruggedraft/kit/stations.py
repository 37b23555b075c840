"""Whether a station's worker is there. It holds a lock of the database for as long as it lives."""

from django.db import connection

from ruggedraft.core.errors import NotThere
from ruggedraft.live.locks import is_held

from .models import Station

_STATIONS = 0x5241


def looks_queue(station: Station) -> str:
    """Looks are short and somebody may be waiting for them: they have a worker's lane of their own."""
    return f"{station.name} looks"


def be_the_only_one(station: Station) -> bool:
    """Take the station's lock on this connection, for its life; False if another process has it."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_try_advisory_lock(%s, %s)", [_STATIONS, station.pk])
        return bool(cursor.fetchone()[0])


def is_running(station: Station) -> bool:
    return is_held(_STATIONS, station.pk)


def station_named(name: str) -> Station:
    """Raises NotThere."""
    found = Station.objects.filter(name=name).first()
    if found is None:
        raise NotThere(f"There is no station '{name}'.")
    return found


def all_stations() -> list[Station]:
    return list(Station.objects.order_by("name"))
