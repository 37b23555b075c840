"""Whether a station's worker is there. It holds a lock of the database for as long as it lives."""

from django.db import connection

from .models import Station

_STATIONS = 0x5241


def be_the_only_one(station: Station) -> bool:
    """Take the station's lock on this connection, for its life; False if another process has it."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_try_advisory_lock(%s, %s)", [_STATIONS, station.pk])
        return bool(cursor.fetchone()[0])


def is_running(station: Station) -> bool:
    """Whether any process holds the station's lock now (pg_locks: classid and objid are the lock's two numbers)."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT EXISTS (SELECT FROM pg_locks WHERE locktype = 'advisory' AND granted"
            " AND classid = %s AND objid = %s"
            " AND database = (SELECT oid FROM pg_database WHERE datname = current_database()))",
            [_STATIONS, station.pk],
        )
        return bool(cursor.fetchone()[0])
