"""The database's advisory locks, which live as long as the connection that took them: a process that dies lets go."""

import psycopg
from django.db import connection

HELD = """
SELECT objid::bigint FROM pg_locks WHERE locktype = 'advisory' AND granted AND classid = {kind}
AND database = (SELECT oid FROM pg_database WHERE datname = current_database())
"""
"""Numbers of the locks of one kind that are held (pg_locks: classid and objid are a lock's two numbers)."""


def held(kind: int) -> frozenset[int]:
    """Numbers of the locks of this kind that any process holds now."""
    with connection.cursor() as cursor:
        cursor.execute(HELD.format(kind=int(kind)))
        return frozenset(number for (number,) in cursor.fetchall())


def is_held(kind: int, number: int) -> bool:
    """Whether any process holds this lock now."""
    return number in held(kind)


def try_lock(over: psycopg.Connection, kind: int, number: int) -> bool:
    """Take a lock for as long as this connection lives; False if somebody else has it."""
    row = over.execute("SELECT pg_try_advisory_lock(%s, %s)", [kind, number]).fetchone()
    return row is not None and bool(row[0])
