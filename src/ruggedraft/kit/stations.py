"""Whether a station's worker is there. It holds a lock of the database for as long as it lives."""

from django.db import connection

from ruggedraft.core.errors import NotThere
from ruggedraft.live.locks import is_held

from .models import Station

_RUNNING = """
SELECT objid::bigint FROM pg_locks
WHERE locktype = 'advisory' AND granted AND classid = %s
AND database = (SELECT oid FROM pg_database WHERE datname = current_database())
"""
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


def running_stations() -> frozenset[int]:
    """Ids of the stations whose workers are there now."""
    with connection.cursor() as cursor:
        cursor.execute(_RUNNING, [_STATIONS])
        return frozenset(number for (number,) in cursor.fetchall())


def station_named(name: str) -> Station:
    """Raises NotThere."""
    found = Station.objects.filter(name=name).first()
    if found is None:
        raise NotThere(f"There is no station '{name}'.")
    return found


def all_stations() -> list[Station]:
    return list(Station.objects.order_by("name"))


def stations_elsewhere() -> list[Station]:
    """Those on other machines that are there now."""
    running = running_stations()
    return [one for one in Station.objects.exclude(role="").order_by("name") if one.pk in running]
