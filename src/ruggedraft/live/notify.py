"""Saying what changed. The words travel through PostgreSQL, so they leave exactly when the facts are committed."""

from collections.abc import Iterable
from typing import Any

import psycopg
from django.conf import settings
from django.db import connection

from .messages import Changed, Progress, Resync, Topic

CHANNEL = "raft_live"
_MOST_BYTES = 7900  # NOTIFY payloads end below 8000 bytes (PostgreSQL manual, NOTIFY)


def changed(
    *topics: Topic, rolls: Iterable[str] = (), cards: Iterable[str] = (), production: int | None = None
) -> None:
    """Tell every open screen that what it shows under these topics may be out of date.

    Inside a transaction the message leaves with the commit, and not at all after a rollback.
    rolls, cards: tags and labels of those it is about, where that is known; otherwise it may be about any
    production: id of theirs; names are told to nobody else, so that there are none without it
    """
    names = {Topic.ROLLS: list(rolls), Topic.LOOKS: list(rolls), Topic.CARDS: list(cards)}
    if production is None and any(names.values()):
        raise ValueError("names of rolls and cards are told to their production alone: say which that is")
    for topic in topics:
        said = names.get(topic, [])
        of = production if topic in _OF_ONE else None
        send(Changed(topic=topic, names=said if len(said) <= _MOST_NAMES else [], production=of))


_MOST_NAMES = 50
_OF_ONE = frozenset(
    (
        Topic.ROLLS,
        Topic.LOOKS,
        Topic.CARDS,
        Topic.NOTES,
        Topic.SHIFTS,
        Topic.NEWS,
        Topic.PRESENCE,
        Topic.ACCOUNTS,
        Topic.DELIVERIES,
    )
)
"""What is of one production; readers, stores and stations are shared."""


def send(message: Changed | Progress | Resync, over: psycopg.Connection | None = None) -> None:
    """Say something small to every open screen.

    over: a connection of the caller's own, for threads that would otherwise leave one of Django's behind
    """
    payload = message.model_dump_json()
    if len(payload.encode()) > _MOST_BYTES:
        raise ValueError("a live message only names what changed; this one is too large to travel")
    with (over or connection).cursor() as cursor:
        cursor.execute("SELECT pg_notify(%s, %s)", [CHANNEL, payload])


def connection_words() -> dict[str, Any]:
    """What psycopg needs to reach the ledger."""
    database = settings.DATABASES["default"]
    words = {"dbname": "NAME", "user": "USER", "password": "PASSWORD", "host": "HOST", "port": "PORT"}
    return {"autocommit": True, **{word: database[key] for word, key in words.items() if database[key]}}
