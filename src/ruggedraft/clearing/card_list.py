"""Every card of a production: where it is, who has it, what is on it, how it has behaved, whether it may be used."""

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import connection

from ruggedraft.core.cards import CardRun
from ruggedraft.core.redundancy import CardLife, is_recalled, life_of
from ruggedraft.intake.models import Card
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll
from ruggedraft.stores.models import Store

from .card_rows import moment_of
from .cases import Case, active_cards, cases
from .custody import CardHolder, holders_of
from .roll_cases import RollCase, roll_cases


@dataclass(frozen=True)
class CardRecord:
    """What a card did over its life. rolls: how often it was filled. bytes: that were read off it, in whole rolls

    errors: files of which it gave an error. rate, rate_before: bytes a second in its last run, and the best ever; None
    if unknown
    """

    rolls: int = 0
    bytes: int = 0
    errors: int = 0
    rate: float | None = None
    best_rate: float | None = None
    last_seen_at: datetime | None = None
    last_slot: str = ""


@dataclass(frozen=True)
class CardLine:
    """A card with its case and its record. said: who was said to have it, where that still holds"""

    case: Case
    record: CardRecord
    said: CardHolder | None = None

    @property
    def life(self) -> CardLife:
        case = self.case
        return life_of(case.facts, case.verdict, rolls=self.record.rolls)

    @property
    def since(self) -> datetime | None:
        """When that was noted, where it was."""
        if self.case.stay or self.said is None:
            return self.record.last_seen_at
        return self.said.since

    @property
    def whereabouts(self) -> str:
        """Where it is or who has it, as far as anybody noted; such as "in slot 1" or "with Kit Marsh"."""
        if self.case.stay:
            return f"in {self.case.stay.slot}"
        return f"lost; before that {self._before}" if self.life is CardLife.LOST else self._before

    @property
    def _before(self) -> str:
        """Of a card in no reader; of one that is lost, where it was before that."""
        case, cleared = self.case, self.case.clearance
        if self.said:
            return f"with {self.said.name}" if self.said.name else "at the cart"
        if cleared and cleared.handed_to:
            return f"with {cleared.handed_to}"
        if self.life in (CardLife.HANDED_BACK, CardLife.IN_CAMERA) or is_recalled(case.facts):
            return f"with camera {case.card.owner.letter}"
        return f"last in {self.record.last_slot}" if self.record.last_slot else "never in a reader here"


@dataclass(frozen=True)
class CardsPage:
    """after: what to ask for to get the next ones; None on the last page. counts: of all cards, by where they are"""

    cards: tuple[CardLine, ...]
    after: str | None
    counts: Mapping[CardLife, int]
    in_all: int


_A_PAGE = 60


@dataclass(frozen=True)
class CardsSought:
    """Which cards are asked for. Empty and None: all. text: in the label, or in the tag of what is on it"""

    text: str = ""
    camera: str = ""
    life: CardLife | None = None

    def wants(self, line: CardLine) -> bool:
        card, text = line.case.card, self.text.strip().casefold()
        named = [card.label, *(one.roll.tag for one in line.case.rolls)]
        fits = not text or any(text in name.casefold() for name in named)
        return fits and self.camera in ("", card.owner.letter) and self.life in (None, line.life)


def page_of_all_cards(
    production: Production, places: Mapping[int, Store], sought: CardsSought = CardsSought(), *, after: str = ""
) -> CardsPage:
    """By label, as they are numbered. after: from the page before"""
    lines = card_lines(cases(active_cards().filter(camera__production=production), places))
    found = sorted((line for line in lines if sought.wants(line)), key=lambda line: line.case.card.label)
    behind = [line for line in found if line.case.card.label > after]
    page = behind[:_A_PAGE]
    rest = page[-1].case.card.label if len(behind) > _A_PAGE else None
    return CardsPage(tuple(page), rest, Counter(line.life for line in lines), len(found))


def card_lines(found: Iterable[Case]) -> list[CardLine]:
    """In the order given, with one query for all their records."""
    found = list(found)
    ids = [one.card.pk for one in found]
    records, holders = records_of(ids), holders_of(ids)
    return [CardLine(one, records.get(one.card.pk, CardRecord()), holders.get(one.card.pk)) for one in found]


_RECORDS = """
SELECT c.id, json_build_object(
  'rolls', (SELECT count(*) FROM rolls_roll r WHERE r.card_id = c.id),
  'bytes', (SELECT COALESCE(sum(s.read_bytes), 0)::bigint FROM rolls_roll r
    JOIN rolls_rollsummary s ON s.roll_id = r.id WHERE r.card_id = c.id),
  'errors', (SELECT COALESCE(sum(o.card_errors), 0) FROM offloads_offload o WHERE o.card_id = c.id),
  'rates', (SELECT json_agg(o.read_bytes / extract(epoch FROM r.finished_at - r.started_at) ORDER BY r.id)
    FROM offloads_offload o JOIN runs_run r ON r.id = o.run_id
    WHERE o.card_id = c.id AND r.end = 'well' AND o.read_bytes >= 1000000 AND r.finished_at > r.started_at),
  'last', (SELECT json_build_array(i.inserted_at, d.name) FROM intake_insertion i
    JOIN intake_reader d ON d.id = i.reader_id WHERE i.card_id = c.id ORDER BY i.id DESC LIMIT 1))
FROM intake_card c WHERE c.id = ANY(%s)
"""


def records_of(cards: list[int]) -> dict[int, CardRecord]:
    """By card, in one query."""
    with connection.cursor() as cursor:
        cursor.execute(_RECORDS, [cards])
        return {card: _record(row) for card, row in cursor.fetchall()}


def _record(row: Mapping[str, Any]) -> CardRecord:
    rates, (at, slot) = row["rates"] or [], row["last"] or (None, "")
    return CardRecord(
        row["rolls"], row["bytes"], row["errors"], rates[-1] if rates else None, max(rates, default=None),
        moment_of(at) if at else None, slot,
    )  # fmt: skip


_MOST_EVENTS, _MOST_RUNS, _MOST_ROLLS = 100, 40, 60


def rolls_of(card: Card, production: Production, places: Mapping[int, Store]) -> list[RollCase]:
    """The last rolls that were taken of a card, newest first."""
    ids = Roll.objects.filter(card=card, production=production).order_by("-pk").values_list("pk", flat=True)
    return roll_cases(production, ids[:_MOST_ROLLS], places, now())


def events_of(card: Card, production: Production) -> list[JournalEntry]:
    """What the journal says of a card and of its rolls, newest first."""
    tags = Roll.objects.filter(card=card).values_list("tag", flat=True)
    rows = JournalEntry.objects.filter(subject__in=[card.label, *tags]).select_related("person")
    mine = rows.filter(production__isnull=True) | rows.filter(production=production.pk)
    return list(mine.order_by("-pk")[:_MOST_EVENTS])


@dataclass(frozen=True)
class RunOfCard:
    """A run that read a card. end: as `core.runs.RunEnd` says it"""

    tag: str
    reader: str
    end: str
    bytes: int
    run: CardRun


def runs_of(card: Card) -> list[RunOfCard]:
    """Those that have ended, newest first."""
    rows = Offload.objects.filter(card=card).exclude(finished_at=None).select_related("roll", "reader")
    return [_run(row) for row in rows.order_by("-pk")[:_MOST_RUNS]]


def _run(row: Offload) -> RunOfCard:
    ended = row.finished_at
    if ended is None:
        raise LookupError("only runs that have ended say how a card behaved")
    seconds = (ended - row.started_at).total_seconds() if row.started_at else 0.0
    rate = row.read_bytes / seconds if seconds > 0 and row.read_bytes else None
    reader = row.reader.name if row.reader else ""
    return RunOfCard(row.roll.tag, reader, row.end, row.read_bytes, CardRun(ended, row.card_errors, rate))
