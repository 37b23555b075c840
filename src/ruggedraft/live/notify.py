"""Saying what changed. The words travel through PostgreSQL, so they leave exactly when the facts are committed."""

import json

from django.db import connection

CHANNEL = "raft_live"
_MOST_BYTES = 7900  # NOTIFY payloads end below 8000 bytes (PostgreSQL manual, NOTIFY)


def changed(*topics: str) -> None:
    """Tell every open screen that what it shows under these topics may be out of date.

    Inside a transaction the message leaves with the commit, and not at all after a rollback.
    """
    for topic in topics:
        send({"kind": "changed", "topic": topic})


def send(message: dict[str, object]) -> None:
    payload = json.dumps(message)
    if len(payload.encode()) > _MOST_BYTES:
        raise ValueError("a live message only names what changed; this one is too large to travel")
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_notify(%s, %s)", [CHANNEL, payload])
