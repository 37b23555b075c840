"""Everything noted about cards except their files: one row per card, all in one query."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import Any

from django.db.models import QuerySet
from django.db.models.expressions import RawSQL

from ruggedraft.core.redundancy import Cover, FileFact, WaiverFact
from ruggedraft.crew.models import shown_name
from ruggedraft.intake.models import Card
from ruggedraft.kit.stations import AWAY
from ruggedraft.rolls.gone import GoneSummary

_NOTED = """(
SELECT json_build_object('stay', stay, 'listing', l, 'cleared', cleared, 'summary', s, 'key', k.key, 'waivers',
  (SELECT json_agg(json_build_object('path', v.path, 'size', v.size, 'modified_ns', v.modified_ns, 'reason', v.reason,
      'fingerprint', v.fingerprint, 'stay', vl.insertion_id,
      'by', json_build_array(p.username, p.first_name, p.last_name))
    ORDER BY v.id)
    FROM rolls_waiver v JOIN crew_person p ON p.id = v.person_id JOIN intake_cardlisting vl ON vl.id = v.listing_id
    WHERE v.card_id = intake_card.id))
FROM (SELECT 1) one
LEFT JOIN LATERAL (
  SELECT i.id, i.serial, i.inserted_at, r.name AS slot, r.station_id AS station, {away} AS unwatched
  FROM intake_insertion i JOIN intake_reader r ON r.id = i.reader_id JOIN kit_station s ON s.id = r.station_id
  WHERE i.card_id = intake_card.id AND i.removed_at IS NULL
) stay ON true
LEFT JOIN LATERAL (
  SELECT l.id, l.insertion_id, l.began_at, l.confirmed_at, l.version, l.layout, l.files, l.bytes, l.first_ns, l.last_ns,
    l.digest, l.compared, i.serial
  FROM intake_cardlisting l JOIN intake_insertion i ON i.id = l.insertion_id
  WHERE l.card_id = intake_card.id ORDER BY l.id DESC LIMIT 1
) l ON stay.id IS NULL OR stay.id = l.insertion_id
LEFT JOIN LATERAL (
  SELECT c.id, c.at, c.listing_id, cl.version AS listing_version, c.evidence->'signatures' AS signatures,
    CASE WHEN b.after >= last.stay THEN b.to END AS handed_to,
    v.id AS revocation, v.at AS revoked_at, v.reason AS revoked_why, v.out AS out_when_revoked,
    v.listing_id < (SELECT max(n.id) FROM intake_cardlisting n WHERE n.card_id = intake_card.id) AS read_since,
    (SELECT json_build_array(p.username, p.first_name, p.last_name) FROM crew_person p WHERE p.id = v.person_id)
      AS revoked_by,
    COALESCE(CASE WHEN b.after >= last.stay THEN b.at END,
      (SELECT max(removed_at) FROM intake_insertion i WHERE i.card_id = intake_card.id AND i.removed_at >= c.at), b.at)
    AS handed_back_at
  FROM clearing_clearance c JOIN intake_cardlisting cl ON cl.id = c.listing_id
  LEFT JOIN LATERAL (SELECT * FROM clearing_handedback WHERE clearance_id = c.id ORDER BY id DESC LIMIT 1) b ON true
  CROSS JOIN LATERAL (SELECT max(i.id) AS stay FROM intake_insertion i WHERE i.card_id = intake_card.id) last
  LEFT JOIN clearing_revocation v ON v.clearance_id = c.id
  WHERE c.card_id = intake_card.id ORDER BY c.id DESC LIMIT 1
) cleared ON true
CROSS JOIN LATERAL (
  SELECT concat_ws('/', COALESCE(l.id, 0), COALESCE(l.version, 0), COALESCE(cleared.id, 0),
    COALESCE(cleared.listing_version, 0),
    (SELECT concat_ws(',', count(*), sum(content)) FROM rolls_roll WHERE card_id = intake_card.id),
    (SELECT concat_ws(',', count(*), max(id)) FROM rolls_waiver WHERE card_id = intake_card.id),
    (SELECT id FROM intake_gonefile WHERE card_id = intake_card.id ORDER BY card_id DESC, id DESC LIMIT 1), '|',
    (SELECT max(id) FROM intake_goneanswer WHERE card_id = intake_card.id), '|',
    CASE WHEN l.compared > 0 THEN (
      SELECT concat_ws(',', r.production_id, count(*), sum(r.content)) FROM rolls_roll r
      WHERE r.production_id = (SELECT m.production_id FROM productions_camera m WHERE m.id = intake_card.camera_id)
      GROUP BY r.production_id
    ) END) AS key
  OFFSET 0
) k
LEFT JOIN LATERAL (
  SELECT s.rolls, s.cover, s.entries, s.gone_open, s.gone_rolls
  FROM clearing_cardsummary s WHERE s.card_id = intake_card.id AND s.key = k.key
) s ON true
)""".replace("{away}", AWAY)
"""`key` names the facts that a card's summary rests on. Each grows only, so that no two states of a card share one.

OFFSET 0: the key is put together once a card. The order by card and then id is that of the index on both.
"""


@dataclass(frozen=True)
class Stay:
    """A card's stay in a reader. station: id. slot: the reader's name. unwatched: its station is away"""

    id: int
    serial: str
    inserted_at: datetime
    slot: str
    station: int
    unwatched: bool


@dataclass(frozen=True)
class LastListing:
    """The last listing of a card that says what is on it now; see `intake.models.CardListing`."""

    id: int
    insertion_id: int
    began_at: datetime
    confirmed_at: datetime | None
    version: int
    layout: str
    files: int
    bytes: int
    first_ns: int | None
    last_ns: int | None
    digest: str
    compared: int
    serial: str

    @property
    def pk(self) -> int:
        """As its row calls it."""
        return self.id


@dataclass(frozen=True)
class LastClearance:
    """When a card was last cleared. signed_by: names. handed_back_at: when it left our hands afterwards.

    handed_to: who has it since then; empty where nobody said, or it was here again
    revocation: id of the act that took it back; None while it stands
    """

    id: int
    at: datetime
    listing_id: int
    signed_by: tuple[str, ...]
    handed_back_at: datetime | None
    handed_to: str = ""
    revocation: int | None = None
    revoked_at: datetime | None = None
    revoked_by: str = ""
    revoked_why: str = ""
    out_when_revoked: bool = False
    read_since: bool = False


@dataclass(frozen=True)
class SummaryRow:
    """What follows from the card's files and the rolls they are in; see `covers.work_out`.

    rolls: ids of those that the files are, or look like, content of; oldest first
    cover: the files, counted by what is known of them. entries: a digest of everything on the card
    """

    rolls: tuple[int, ...]
    cover: Cover
    entries: str
    gone: GoneSummary


@dataclass(frozen=True)
class CardRow:
    """key: names the facts that a summary rests on. summary: None where there is none of these facts."""

    card: Card
    stay: Stay | None
    listing: LastListing | None
    clearance: LastClearance | None
    key: str
    summary: SummaryRow | None
    waivers: tuple[WaiverFact, ...]


def card_rows(cards: QuerySet[Card]) -> list[CardRow]:
    """In the order of the cards, in the one query that reads these."""
    noted = cards.annotate(noted=RawSQL(_NOTED, ()))  # noqa: S611  no words of anybody's are in it
    return [_card_row(card, card.noted) for card in noted]


def _card_row(card: Card, noted: Mapping[str, Any]) -> CardRow:
    stay, listing, cleared = noted["stay"], noted["listing"], noted["cleared"]
    at_hand = listing["insertion_id"] if listing else None
    mine = [one for one in noted["waivers"] or () if one["fingerprint"] or one["stay"] == at_hand]
    return CardRow(
        card,
        _stay(stay) if stay else None,
        _listing(listing) if listing else None,
        _clearance(cleared) if cleared else None,
        noted["key"],
        _summary(noted["summary"]) if noted["summary"] else None,
        tuple(map(_waiver, mine)),
    )


def _summary(row: Mapping[str, Any]) -> SummaryRow:
    gone = GoneSummary(row["gone_open"], frozenset(row["gone_rolls"]))
    return SummaryRow(tuple(row["rolls"]), Cover.from_data(row["cover"]), row["entries"], gone)


def _stay(row: dict[str, Any]) -> Stay:
    return Stay(row["id"], row["serial"], moment_of(row["inserted_at"]), row["slot"], row["station"], row["unwatched"])


def _listing(row: dict[str, Any]) -> LastListing:
    confirmed = row["confirmed_at"]
    times = {"began_at": moment_of(row["began_at"]), "confirmed_at": moment_of(confirmed) if confirmed else None}
    return LastListing(**row | times)


def _clearance(row: dict[str, Any]) -> LastClearance:
    names = tuple(signature["name"] for signature in row["signatures"])
    back, revoked = row["handed_back_at"], row["revocation"]
    known = LastClearance(
        row["id"],
        moment_of(row["at"]),
        row["listing_id"],
        names,
        moment_of(back) if back else None,
        row["handed_to"] or "",
    )
    if revoked is None:
        return known
    return replace(
        known,
        revocation=revoked,
        revoked_at=moment_of(row["revoked_at"]),
        revoked_by=shown_name(*row["revoked_by"]),
        revoked_why=row["revoked_why"],
        out_when_revoked=row["out_when_revoked"],
        read_since=row["read_since"],
    )


def _waiver(row: dict[str, Any]) -> WaiverFact:
    """One without a fingerprint speaks of its own stay only; the caller leaves others out."""
    file = FileFact(row["path"], row["size"], row["modified_ns"], row["fingerprint"])
    return WaiverFact(file, row["reason"], shown_name(*row["by"]))


def moment_of(words: str) -> datetime:
    """A time as PostgreSQL writes it into JSON."""
    return datetime.fromisoformat(words).astimezone(UTC)
