"""What people said and did about cards and their rolls: holds, signatures, offloads; all in one query."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any, TypeVar

from django.db import connection

from ruggedraft.crew.models import shown_name

from .card_rows import moment_of

_SAID = """
SELECT
  (SELECT json_agg(json_build_object('card', o.card_id, 'roll', o.roll_id, 'by', p.username,
      'open', o.finished_at IS NULL) ORDER BY o.id)
    FROM (SELECT o.card_id, r.* FROM offloads_offload o JOIN runs_run r ON r.id = o.run_id) o
    JOIN crew_person p ON p.id = o.person_id
    WHERE o.card_id = ANY(%(cards)s) AND (o.finished_at IS NULL OR o.roll_id = ANY(%(rolls)s))),
  (SELECT json_agg(json_build_object('id', h.id, 'roll', h.roll_id, 'reason', h.reason,
      'by', json_build_array(p.username, p.first_name, p.last_name)) ORDER BY h.id)
    FROM clearing_hold h JOIN crew_person p ON p.id = h.placed_by_id
    WHERE h.roll_id = ANY(%(rolls)s) AND h.lifted_at IS NULL),
  (SELECT json_agg(json_build_object('roll', g.roll_id, 'person', g.person_id, 'username', p.username, 'at', g.at,
      'digest', g.digest, 'by', json_build_array(p.username, p.first_name, p.last_name)) ORDER BY g.id)
    FROM clearing_signature g JOIN crew_person p ON p.id = g.person_id
    WHERE g.roll_id = ANY(%(newest)s)),
  (SELECT json_agg(r.subject) FROM runs_run r WHERE r.finished_at IS NULL AND r.roll_id = ANY(%(rolls)s))
"""


@dataclass(frozen=True)
class OpenHold:
    id: int
    roll: int
    reason: str
    by: str


@dataclass(frozen=True)
class SignatureRow:
    """person: id. digest: of what was signed"""

    roll: int
    person: int
    username: str
    by: str
    at: datetime
    digest: str


@dataclass(frozen=True)
class Ran:
    """An offload of a card that is open, or is of a roll that is on it. by: user name"""

    card: int
    roll: int
    by: str
    open: bool


@dataclass(frozen=True)
class Said:
    """ran: by card. holds, signed: by roll; signatures only of rolls that are the newest on a card

    open_runs: subjects of the rolls' runs that have not ended
    """

    ran: Mapping[int, tuple[Ran, ...]]
    holds: Mapping[int, tuple[OpenHold, ...]]
    signed: Mapping[int, tuple[SignatureRow, ...]]
    open_runs: frozenset[str]


def said_of(rolls: Mapping[int, tuple[int, ...]]) -> Said:
    """rolls: by card, those that are on it, oldest first."""
    words = {
        "cards": list(rolls),
        "rolls": list({pk for mine in rolls.values() for pk in mine}),
        "newest": [mine[-1] for mine in rolls.values() if mine],
    }
    with connection.cursor() as cursor:
        cursor.execute(_SAID, words)
        ran, holds, signed, open_runs = (rows or [] for rows in cursor.fetchone())
    return Said(
        _grouped((row["card"], Ran(**row)) for row in ran),
        _grouped((row["roll"], OpenHold(**row | _by(row))) for row in holds),
        _grouped((row["roll"], SignatureRow(**row | _by(row) | {"at": moment_of(row["at"])})) for row in signed),
        frozenset(open_runs),
    )


def _by(row: Mapping[str, Any]) -> dict[str, str]:
    return {"by": shown_name(*row["by"])}


_Row = TypeVar("_Row")


def _grouped(pairs: Iterable[tuple[int, _Row]]) -> dict[int, tuple[_Row, ...]]:
    found: dict[int, tuple[_Row, ...]] = {}
    for key, row in pairs:
        found[key] = (*found.get(key, ()), row)
    return found
