"""A card against a ledger of two million files, on a database made for it and dropped again."""

import statistics
from datetime import UTC, date, datetime
from pathlib import Path
from time import perf_counter

from django.db import connection

from ruggedraft.clearing.contents import contents_of
from ruggedraft.core.cards import Holding
from ruggedraft.core.sources import FolderSource, list_card
from ruggedraft.crew.models import Person
from ruggedraft.intake.acts.read_card import note_listing
from ruggedraft.intake.contents import listed_card
from ruggedraft.intake.models import Card, Insertion, Reader
from ruggedraft.kit.models import Station
from ruggedraft.productions.models import Camera, Plan, Production, RedundancyRule
from ruggedraft.rolls.matching import holdings
from ruggedraft.rolls.models import Roll, Take

from .measuring import ROUNDS, say

KNOWN = 2_000_000
ROLLS = 100
_FILL = """
INSERT INTO rolls_rollfile (roll_id, take_id, path, size, modified_ns, checksum, fingerprint, kept_as, others)
SELECT %s, %s, format('DCIM/%%s/SKR_%%s.JPG', 100 + n / 9999, n), 9000 + n %% 5003,
       (1700000000 + n)::bigint * 1000000000, md5(n::text), '', '', '{}'
FROM generate_series(%s, %s) n
"""
_HALF_OF_THE_CARD = """
INSERT INTO rolls_rollfile (roll_id, take_id, path, size, modified_ns, checksum, fingerprint, kept_as, others)
SELECT %s, %s, path, size, modified_ns, md5(path), '', '', '{}' FROM intake_listedentry
WHERE listing_id = %s AND id %% 2 = 0
"""


def against_the_ledger(card_folder: Path) -> dict[str, float]:
    """Median seconds from a card in a slot to its first screen's answer, and of the matching alone."""
    reader, card, rolls = _production(card_folder)
    say(f"filling the ledger with {KNOWN:,} files")
    _fill(rolls[:-1])
    rounds = []
    for n in range(ROUNDS):
        say(f"round {n + 1} of {ROUNDS}: the ledger")
        rounds.append(_round(reader, card, rolls[-1] if n == 0 else None, card_folder))
    first, match = zip(*rounds, strict=True)
    return {
        "from a card in its slot to all that its first screen shows": statistics.median(first),
        "match it against the ledger's 2,000,000 files": statistics.median(match),
    }


def _production(card_folder: Path) -> tuple[Reader, Card, list[Roll]]:
    production = Production.objects.create(name="Bench", first_day=date(2026, 5, 14))
    RedundancyRule.objects.create(production=production)
    plan = Plan.objects.create(production=production, name="all")
    camera = Camera.objects.create(production=production, letter="S", name="Tern", kind="stills", plan=plan)
    card = Card.objects.create(label="S-01", kind="SD", camera=camera)
    reader = Reader.objects.create(
        station=Station.objects.create(name="bench"), name="slot", port="slot", path=str(card_folder)
    )
    now = datetime.now(UTC)
    rolls = (
        Roll(
            production=production,
            camera=camera,
            card=card,
            number=n,
            tag=f"S{n:03d}",
            shoot_day=now,
            opened_at=now,
            algorithm="xxh128",
        )
        for n in range(1, ROLLS + 2)
    )
    made = Roll.objects.bulk_create(rolls)
    stay = Insertion.objects.create(reader=reader, card=card, serial="S1", kind="SD", inserted_at=now)
    listing = note_listing(stay, list_card(FolderSource(card_folder)))
    person = Person.objects.create(username="bench")
    Take.objects.bulk_create(Take(roll=roll, listing=listing, person=person, at=now) for roll in made)
    return reader, card, made


def _fill(rolls: list[Roll]) -> None:
    each = KNOWN // ROLLS
    with connection.cursor() as cursor:
        for n, roll in enumerate(rolls):
            cursor.execute(_FILL, [roll.pk, roll.takes.get().pk, n * each, (n + 1) * each - 1])


def _round(reader: Reader, card: Card, to_fill: Roll | None, card_folder: Path) -> tuple[float, float]:
    """to_fill: the roll that shall hold half of the card's files from now on."""
    now = datetime.now(UTC)
    Insertion.objects.update(removed_at=now)
    stay = Insertion.objects.create(reader=reader, card=card, serial="S1", kind="SD", inserted_at=now)
    started = perf_counter()
    listing = note_listing(stay, list_card(FolderSource(card_folder)))
    contents_of(stay)
    first = perf_counter() - started
    if to_fill:
        with connection.cursor() as cursor:
            cursor.execute(_HALF_OF_THE_CARD, [to_fill.pk, to_fill.takes.get().pk, listing.pk])
            cursor.execute("ANALYZE")
    listed = listed_card(listing)
    started = perf_counter()
    found = holdings(listing, listed)
    match = perf_counter() - started
    held = sum(one.holding in (Holding.HELD, Holding.UNSURE) for one in found.held.values())
    if held != listing.files // 2:
        raise RuntimeError(f"{held} of {listing.files} files are held: this measures something else")
    return first, match
