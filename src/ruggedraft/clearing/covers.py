"""What is known of the files on cards, worked out from the files themselves, and remembered."""

import hashlib
import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.db import connection

from ruggedraft.core.redundancy import ClearanceFact, FileFact, Known, RollFacts, each_known, grouped
from ruggedraft.intake.models import CardListing
from ruggedraft.intake.queries import listed_facts
from ruggedraft.rolls.gone import GoneSummary, gone_summaries
from ruggedraft.rolls.models import LeftBehind, Roll
from ruggedraft.rolls.readings import content_of

from .card_rows import CardRow, LastListing, SummaryRow
from .models import CardSummary

_LIKE = """
SELECT DISTINCT l.id, f.roll_id
FROM intake_cardlisting l
JOIN intake_insertion i ON i.id = l.insertion_id
JOIN intake_listedentry e ON e.listing_id = l.id AND e.kind = 'file'
JOIN rolls_roll r ON r.card_id = l.card_id AND (r.fs_serial = '' OR i.serial = '' OR r.fs_serial = i.serial)
JOIN rolls_rollfile f ON f.roll_id = r.id AND md5(f.path) = md5(e.path) AND f.path = e.path AND f.size = e.size
WHERE l.id = ANY(%s)
"""
"""Rolls of the same card with files of these names and sizes.

A format gives a card another file-system serial; where it does not, fingerprints tell.
"""
_BY_CONTENT = """
SELECT e.listing_id, f.roll_id, e.path, e.size, e.modified_ns, e.fingerprint
FROM intake_listedentry e
JOIN intake_cardlisting l ON l.id = e.listing_id
JOIN intake_card c ON c.id = l.card_id
JOIN productions_camera m ON m.id = c.camera_id
JOIN rolls_rollfile f ON f.checksum = e.checksum AND f.size = e.size
JOIN rolls_roll r ON r.id = f.roll_id AND r.algorithm = e.algorithm AND r.production_id = m.production_id
WHERE e.listing_id = ANY(%s) AND e.checksum <> ''
"""
"""Rolls that hold files which were read whole on these cards, with the files as the card has them."""


@dataclass(frozen=True)
class WorkedOut:
    """files: everything on the card that needs cover, one by one, with what is known of it."""

    summary: SummaryRow
    files: tuple[tuple[FileFact, Known], ...]


def work_out(rows: Sequence[CardRow]) -> dict[int, WorkedOut]:
    """By card. It reads all their files, of some cards at a time."""
    found: dict[int, WorkedOut] = {}
    for begin in range(0, len(rows), _AT_A_TIME):
        some = rows[begin : begin + _AT_A_TIME]
        loaded = _Loaded(some)
        found |= {row.card.pk: loaded.of(row) for row in some}
    return found


_AT_A_TIME = 10


class _Loaded:
    def __init__(self, rows: Sequence[CardRow]) -> None:
        listings = [row.listing for row in rows if row.listing]
        self.listed = listed_facts(listings)
        self.like = _rolls_like(listings)
        self.by_content = _rolls_by_content([one for one in listings if one.compared])
        wanted = {pk for found in (*self.like.values(), *self.by_content.values()) for pk in found}
        self.rolls = Roll.objects.in_bulk(wanted)
        self.content = content_of(self.rolls.values())
        cleared_on = [row.clearance.listing_id for row in rows if row.clearance]
        self.cleared = listed_facts(CardListing.objects.filter(pk__in=cleared_on))
        cards = [row.card for row in rows]
        self.left = _left(cards)
        self.gone = gone_summaries(cards)

    def of(self, row: CardRow) -> WorkedOut:
        listing = row.listing
        entries = self.listed.get(listing.id, ()) if listing else ()
        more = self.by_content.get(listing.id, {}) if listing else {}
        mine = sorted({*self.like.get(listing.id, ()), *more}) if listing else []
        rolls = [RollFacts(self.rolls[pk].tag, self._content(pk, more), ()) for pk in mine]
        said = rolls, row.waivers, self._clearance(row), self.left.get(row.card.pk, ())
        gone = self.gone.get(row.card.pk, GoneSummary(False, frozenset()))
        files = tuple(each_known(entries, *said))
        return WorkedOut(SummaryRow(tuple(mine), grouped(files, said[2]), _digest(listing, entries), gone), files)

    def _content(self, roll: int, more: Mapping[int, list[FileFact]]) -> frozenset[FileFact]:
        """A roll's files, and those of the card that reading them whole has shown to be the same."""
        return self.content.get(roll, frozenset()) | frozenset(more.get(roll, ()))

    def _clearance(self, row: CardRow) -> ClearanceFact | None:
        cleared = row.clearance
        return ClearanceFact(cleared.at, frozenset(self.cleared[cleared.listing_id])) if cleared else None


def _rolls_like(listings: Iterable[LastListing]) -> dict[int, set[int]]:
    """By listing."""
    found: dict[int, set[int]] = {}
    for listing, roll in _rows(_LIKE, listings):
        found.setdefault(listing, set()).add(roll)
    return found


def _rolls_by_content(listings: Iterable[LastListing]) -> dict[int, dict[int, list[FileFact]]]:
    """By listing and roll."""
    found: dict[int, dict[int, list[FileFact]]] = {}
    for listing, roll, *facts in _rows(_BY_CONTENT, listings):
        found.setdefault(listing, {}).setdefault(roll, []).append(FileFact(*facts))
    return found


def _rows(query: str, listings: Iterable[LastListing]) -> list[tuple[Any, ...]]:
    with connection.cursor() as cursor:
        cursor.execute(query, [[listing.id for listing in listings]])
        return list(cursor.fetchall())


def _left(cards: Iterable[Any]) -> dict[int, list[FileFact]]:
    """What stayed on each card on purpose when rolls were taken, by the card's id."""
    rows = LeftBehind.objects.filter(roll__card__in=list(cards))
    found: dict[int, list[FileFact]] = {}
    for card, path, size, modified_ns in rows.values_list("roll__card", "path", "size", "modified_ns"):
        found.setdefault(card, []).append(FileFact(path, size, modified_ns))
    return found


def _digest(listing: LastListing | None, entries: Iterable[FileFact]) -> str:
    return hashlib.sha256(json.dumps([listing.digest, *entries]).encode()).hexdigest() if listing else ""


def remember(rows: Iterable[CardRow], worked: Mapping[int, WorkedOut]) -> None:
    """In one order, so that two who do the same at once do not wait for each other for ever."""
    CardSummary.objects.bulk_create(
        (_as_row(row, worked[row.card.pk].summary) for row in sorted(rows, key=lambda row: row.card.pk)),
        update_conflicts=True,
        unique_fields=["card"],
        update_fields=["key", "rolls", "cover", "entries", "gone_open", "gone_rolls"],
    )


def _as_row(row: CardRow, summary: SummaryRow) -> CardSummary:
    return CardSummary(
        card_id=row.card.pk, key=row.key, rolls=list(summary.rolls), cover=summary.cover.as_data(),
        entries=summary.entries, gone_open=summary.gone.open, gone_rolls=sorted(summary.gone.rolls),
    )  # fmt: skip
