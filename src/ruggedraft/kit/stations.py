"""Whether a station's worker is there. It holds a lock of the database for as long as it lives."""

from dataclasses import dataclass

from django.db import Error, connection
from django.db.backends.base.base import BaseDatabaseWrapper
from django.db.models import QuerySet

from ruggedraft.core.errors import NotThere
from ruggedraft.live.locks import HELD, held, is_held

from .models import Station

_STATIONS = 0x5241
AWAY = f"(s.role <> '' AND s.id NOT IN ({HELD.format(kind=_STATIONS)}))"
"""Of a station `s` in a query: it is on another machine, and away. What is in its readers is not known then."""


def looks_queue(station: Station) -> str:
    """Looks are short and somebody may be waiting for them: they have a worker's lane of their own."""
    return f"{station.name} looks"


@dataclass(frozen=True)
class Hold:
    """The station's lock, on a connection of its own: who has lost it may be one of two, and has to stop."""

    _on: BaseDatabaseWrapper

    def lasts(self) -> bool:
        """Whether the database still knows of it. A connection that is dead takes some seconds to be found so."""
        try:
            with self._on.cursor() as cursor:
                cursor.execute("SELECT 1")
        except Error:
            return False
        return True


def readings_queue(station: Station) -> str:
    """For what reads whole stores and concerns no roll: one at a time, and no look or run waits for it."""
    return f"{station.name} readings"


def be_the_only_one(station: Station) -> Hold | None:
    """Take the station's lock; None if another process has it."""
    on = connection.copy()
    on.inc_thread_sharing()
    with on.cursor() as cursor:
        cursor.execute("SELECT pg_try_advisory_lock(%s, %s)", [_STATIONS, station.pk])
        if cursor.fetchone()[0]:
            return Hold(on)
    on.close()
    return None


def is_running(station: Station) -> bool:
    return is_held(_STATIONS, station.pk)


def running_stations() -> frozenset[int]:
    """Ids of the stations whose workers are there now."""
    return held(_STATIONS)


def stations_away() -> QuerySet[Station]:
    """Those on other machines that nobody hears of now."""
    return Station.objects.exclude(role="").exclude(pk__in=running_stations())


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
