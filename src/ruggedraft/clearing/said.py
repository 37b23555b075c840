"""What people said and did about cards and their rolls: holds, signatures, offloads; all in one query."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from itertools import chain
from operator import attrgetter
from typing import Any, TypeVar

from django.db import connection

from ruggedraft.core.cards import CardRun, doubts
from ruggedraft.core.redundancy import AsideKind, HoldEnd, HoldFact
from ruggedraft.crew.models import shown_name

from .card_rows import moment_of

_SAID = """
SELECT
  (SELECT json_agg(json_build_object('card', o.card_id, 'roll', o.roll_id, 'by', p.username,
      'open', o.finished_at IS NULL) ORDER BY o.id)
    FROM (SELECT o.card_id, r.* FROM offloads_offload o JOIN runs_run r ON r.id = o.run_id) o
    JOIN crew_person p ON p.id = o.person_id
    WHERE o.card_id = ANY(%(cards)s) AND (o.finished_at IS NULL OR o.roll_id = ANY(%(rolls)s))),
  (SELECT json_agg(json_build_object('id', h.id, 'roll', h.roll_id, 'card', h.card_id, 'camera', h.camera_id,
      'on', COALESCE(r.tag, 'card ' || c.label, 'camera ' || m.letter), 'reason', h.reason, 'ends', h.ends,
      'until', h.until, 'refusal', h.refusal,
      'by', json_build_array(p.username, p.first_name, p.last_name)) ORDER BY h.id)
    FROM clearing_hold h JOIN crew_person p ON p.id = h.placed_by_id
    LEFT JOIN rolls_roll r ON r.id = h.roll_id
    LEFT JOIN intake_card c ON c.id = h.card_id
    LEFT JOIN productions_camera m ON m.id = h.camera_id
    WHERE h.lifted_at IS NULL
      AND (h.roll_id = ANY(%(rolls)s) OR h.card_id = ANY(%(cards)s) OR h.camera_id = ANY(%(cameras)s))),
  (SELECT json_agg(json_build_object('roll', g.roll_id, 'person', g.person_id, 'username', p.username, 'at', g.at,
      'digest', g.digest, 'seen', g.seen, 'session', g.session,
      'by', json_build_array(p.username, p.first_name, p.last_name)) ORDER BY g.id)
    FROM clearing_signature g JOIN crew_person p ON p.id = g.person_id
    WHERE g.roll_id = ANY(%(newest)s) AND g.revocation_id IS NOT DISTINCT FROM
      (SELECT max(v.id) FROM clearing_revocation v JOIN clearing_clearance c ON c.id = v.clearance_id
        WHERE c.roll_id = g.roll_id)),
  (SELECT json_agg(r.subject) FROM runs_run r WHERE r.finished_at IS NULL AND r.roll_id = ANY(%(rolls)s)),
  (SELECT json_agg(json_build_object('card', a.card_id, 'kind', a.kind, 'reason', a.reason,
      'by', json_build_array(p.username, p.first_name, p.last_name)))
    FROM intake_cardaside a JOIN crew_person p ON p.id = a.person_id
    WHERE a.card_id = ANY(%(cards)s) AND a.ended_at IS NULL),
  (SELECT json_agg(json_build_object('card', o.card_id, 'at', r.finished_at, 'errors', o.card_errors, 'rate', CASE WHEN
      o.read_bytes >= 1000000 AND r.end = 'well' AND r.finished_at > r.started_at
      THEN o.read_bytes / extract(epoch FROM r.finished_at - r.started_at) END) ORDER BY o.run_id)
    FROM offloads_offload o JOIN runs_run r ON r.id = o.run_id
    WHERE o.card_id = ANY(%(cards)s) AND r.finished_at IS NOT NULL AND o.run_id > COALESCE(
      (SELECT max(t.after) FROM intake_cardtrusted t WHERE t.card_id = o.card_id), 0))
"""


@dataclass(frozen=True)
class OpenHold:
    """One that nobody lifted. roll, card, camera: the id of what it is on; of the others None. on: the same in words"""

    id: int
    roll: int | None
    card: int | None
    camera: int | None
    on: str
    reason: str
    ends: HoldEnd
    until: datetime | None
    refusal: bool
    by: str

    @property
    def fact(self) -> HoldFact:
        """As a verdict sees it."""
        on = "" if self.roll or self.card else self.on
        return HoldFact(self.reason, self.by, on, self.ends, self.until, self.refusal)


@dataclass(frozen=True)
class SignatureRow:
    """person: id. digest: of what was signed. seen: the same as data. session: in which it was made"""

    roll: int
    person: int
    username: str
    by: str
    at: datetime
    digest: str
    seen: Mapping[str, Any] = field(default_factory=dict)
    session: str = ""


@dataclass(frozen=True)
class Ran:
    """An offload of a card that is open, or is of a roll that is on it. by: user name"""

    card: int
    roll: int
    by: str
    open: bool


@dataclass(frozen=True)
class Aside:
    """A card that is out of use. sentence: why"""

    card: int
    kind: AsideKind | None
    sentence: str


IN_USE = Aside(0, None, "")
"""Of a card that nobody took out of use."""


@dataclass(frozen=True)
class Said:
    """ran: by card. signed: by roll; signatures only of rolls that are the newest on a card

    holds: by roll. card_holds: by card. camera_holds: by camera
    open_runs: subjects of the rolls' runs that have not ended
    aside: by card that is out of use. doubts: what a card's last runs say against it; by card
    """

    ran: Mapping[int, tuple[Ran, ...]]
    holds: Mapping[int, tuple[OpenHold, ...]]
    card_holds: Mapping[int, tuple[OpenHold, ...]]
    camera_holds: Mapping[int, tuple[OpenHold, ...]]
    signed: Mapping[int, tuple[SignatureRow, ...]]
    open_runs: frozenset[str]
    aside: Mapping[int, Aside]
    doubts: Mapping[int, tuple[str, ...]]


def said_of(rolls: Mapping[int, tuple[int, ...]], cameras: Iterable[int]) -> Said:
    """rolls: by card, those that are on it, oldest first. cameras: ids of those that the cards are of"""
    words = {
        "cameras": list(set(cameras)),
        "cards": list(rolls),
        "rolls": list(set(chain.from_iterable(rolls.values()))),
        "newest": [mine[-1] for mine in rolls.values() if mine],
    }
    with connection.cursor() as cursor:
        cursor.execute(_SAID, words)
        ran, held, signed, open_runs, asides, runs = (rows or [] for rows in cursor.fetchone())
    holds = list(map(_hold, held))
    return Said(
        ran=_by("card", (Ran(**row) for row in ran)),
        holds=_by("roll", holds),
        card_holds=_by("card", holds),
        camera_holds=_by("camera", holds),
        signed=_by("roll", map(_signature, signed)),
        open_runs=frozenset(open_runs),
        aside={row["card"]: _aside(row) for row in asides},
        doubts=_doubts(runs),
    )


def _hold(row: Mapping[str, Any]) -> OpenHold:
    until = moment_of(row["until"]) if row["until"] else None
    return OpenHold(**{**row, "by": shown_name(*row["by"]), "ends": HoldEnd(row["ends"]), "until": until})


def _signature(row: Mapping[str, Any]) -> SignatureRow:
    return SignatureRow(**{**row, "by": shown_name(*row["by"]), "at": moment_of(row["at"])})


def _aside(row: Mapping[str, Any]) -> Aside:
    return Aside(row["card"], AsideKind(row["kind"]), f"{row['kind']} by {shown_name(*row['by'])}: {row['reason']}")


def _doubts(runs: Iterable[Mapping[str, Any]]) -> dict[int, tuple[str, ...]]:
    by_card: dict[int, list[CardRun]] = {}
    for row in runs:
        by_card.setdefault(row["card"], []).append(CardRun(moment_of(row["at"]), row["errors"], row["rate"]))
    return {card: doubts(found) for card, found in by_card.items()}


_Row = TypeVar("_Row")


def _by(name: str, rows: Iterable[_Row]) -> dict[int, tuple[_Row, ...]]:
    """By the id that each has under this name; those that have none are left out."""
    found: dict[int, tuple[_Row, ...]] = {}
    for row in rows:
        key = attrgetter(name)(row)
        if key is not None:
            found[key] = (*found.get(key, ()), row)
    return found
