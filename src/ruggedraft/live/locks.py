"""The database's advisory locks, which live as long as the connection that took them: a process that dies lets go."""

from django.db import connection


def is_held(kind: int, number: int) -> bool:
    """Whether any process holds this lock now (pg_locks: classid and objid are the lock's two numbers)."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT EXISTS (SELECT FROM pg_locks WHERE locktype = 'advisory' AND granted"
            " AND classid = %s AND objid = %s"
            " AND database = (SELECT oid FROM pg_database WHERE datname = current_database()))",
            [kind, number],
        )
        return bool(cursor.fetchone()[0])
