"""Every card's case: the facts, the verdict, the remedy, and where that leaves the card. All of it computed."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import TypeVar

from django.db.models import Prefetch

from ruggedraft.core.redundancy import (
    Block,
    CardFacts,
    CardVerdict,
    FileFact,
    HoldFact,
    Remedy,
    Rule,
    WaiverFact,
    judge_card,
    signatures_missing,
    what_would_it_take,
)
from ruggedraft.intake.models import Card, CardListing
from ruggedraft.intake.queries import latest_listings, listed_facts
from ruggedraft.journal.clock import now
from ruggedraft.offloads.models import Offload
from ruggedraft.rolls.queries import RollStanding, is_current, last_rolls, roll_standings
from ruggedraft.stores.queries import store_facts, stores

from .models import Clearance, Hold, Signature, Waiver

_Row = TypeVar("_Row")


class Standing(StrEnum):
    """Where a card stands. Only CLEARED says that it may be formatted."""

    NEVER_READ = "never read"
    EMPTY = "empty"
    UNREAD = "not offloaded"
    RUNNING = "being offloaded"
    BLOCKED = "not clear"
    CLEARABLE = "ready to sign"
    SIGNED = "waiting for a signature"
    CLEARED = "cleared"


@dataclass(frozen=True)
class Case:
    """signers: names of those whose signatures count now. missing_signatures: how many more people must sign."""

    card: Card
    listing: CardListing | None
    roll: RollStanding | None
    facts: CardFacts
    rule: Rule
    verdict: CardVerdict
    remedy: Remedy | None
    signatures: tuple[Signature, ...]
    missing_signatures: int
    clearance: Clearance | None
    standing: Standing
    blocks: tuple[Block, ...]
    holds: tuple[Hold, ...]


def cases(cards: Iterable[Card]) -> list[Case]:
    """The case of each card that belongs to a camera."""
    ground = _Ground([card for card in cards if card.camera])
    return [_case(card, ground) for card in ground.cards]


def case(card: Card) -> Case:
    return cases([card])[0]


class _Ground:
    """What all the cases rest on, read in a number of queries that does not depend on how many cards there are."""

    def __init__(self, cards: list[Card]) -> None:
        self.cards = cards
        self.now = now()
        self.places = [store_facts(store) for store in stores()]
        self.listings = latest_listings(cards)
        listed = listed_facts(self.listings.values())
        self.listed = {card: listed[listing.pk] for card, listing in self.listings.items()}
        self.rolls = self._current_rolls()
        rolls = [standing.roll for standing in self.rolls.values()]
        self.holds = _grouped(
            Hold.objects.filter(roll__in=rolls, lifted_at=None).select_related("placed_by"), "roll_id"
        )
        signed = Signature.objects.filter(roll__in=rolls).select_related("person").order_by("id")
        self.signatures = _grouped(signed, "roll_id")
        self.clearances = {c.roll_id: c for c in Clearance.objects.filter(roll__in=rolls).order_by("id")}
        cleared_on = [clearance.listing for clearance in self._with_listings()]
        self.cleared = {pk: set(facts) for pk, facts in listed_facts(cleared_on).items()}
        runs = Offload.objects.filter(card__in=cards).select_related("person")
        self.runs = _grouped(runs, "card_id")

    def _current_rolls(self) -> dict[int, RollStanding]:
        last = last_rolls(self.cards)
        standings = {standing.roll.card_id: standing for standing in roll_standings(last.values(), with_files=True)}
        return {
            card: standing
            for card, standing in standings.items()
            if is_current(standing.facts.files, self.listed.get(card))
        }

    def _with_listings(self) -> Iterable[Clearance]:
        return Clearance.objects.filter(pk__in=[c.pk for c in self.clearances.values()]).select_related("listing")


def _grouped(rows: Iterable[_Row], key: str) -> dict[int, list[_Row]]:
    found: dict[int, list[_Row]] = {}
    for row in rows:
        found.setdefault(getattr(row, key), []).append(row)
    return found


def _case(card: Card, ground: _Ground) -> Case:
    rule = card.camera.production.rule.as_rule()
    listing, roll = ground.listings.get(card.pk), ground.rolls.get(card.pk)
    facts = _card_facts(card, listing, roll, ground)
    verdict = judge_card(facts, rule, ground.now)
    clearance = ground.clearances.get(roll.roll.pk) if roll else None
    blocks = _since_clearance(clearance, verdict, facts.entries, ground)
    signatures = _signatures(roll, listing, ground)
    runs = ground.runs.get(card.pk, [])
    ran = [run.person.username for run in runs if roll and run.roll_id == roll.roll.pk]
    missing = signatures_missing(rule, [signature.person.username for signature in signatures], ran)
    running = any(run.finished_at is None for run in runs)
    standing = _standing(listing, roll, blocks, clearance, running=running, partly=bool(signatures) and missing > 0)
    remedy = None
    if roll and standing is Standing.BLOCKED:
        remedy = what_would_it_take(facts.rolls[0], ground.places, rule, ground.now)
    holds = tuple(ground.holds.get(roll.roll.pk, ())) if roll else ()
    return Case(
        card, listing, roll, facts, rule, verdict, remedy, signatures, missing, clearance, standing, blocks, holds
    )  # fmt: skip


def _card_facts(card: Card, listing: CardListing | None, roll: RollStanding | None, ground: _Ground) -> CardFacts:
    waivers = tuple(
        WaiverFact(FileFact(w.path, w.size, w.modified_ns), w.reason, w.person.shown_name) for w in card.waivers.all()
    )
    rolls = ()
    if roll:
        holds = tuple(HoldFact(h.reason, h.placed_by.shown_name) for h in ground.holds.get(roll.roll.pk, []))
        rolls = (replace(roll.facts, holds=holds),)
    read_at = listing.read_at if listing else None
    return CardFacts(card.label, tuple(ground.listed.get(card.pk, ())), read_at, rolls, waivers)


def _signatures(roll: RollStanding | None, listing: CardListing | None, ground: _Ground) -> tuple[Signature, ...]:
    """Signatures stand only for the very content they were given for."""
    if roll is None or listing is None:
        return ()
    return tuple(s for s in ground.signatures.get(roll.roll.pk, []) if s.digest == listing.digest)


def _since_clearance(
    clearance: Clearance | None, verdict: CardVerdict, listed: Iterable[FileFact], ground: _Ground
) -> tuple[Block, ...]:
    """A decided clearance does not lapse because the listing grows old, but anything else that blocks ends it."""
    if clearance is None:
        return verdict.blocks
    blocks = tuple(block for block in verdict.blocks if block.kind != "listing")
    cleared = ground.cleared[clearance.listing_id]
    new = tuple(file.path for file in listed if file not in cleared)
    if not new:
        return blocks
    count = f"{len(new):,} {'file' if len(new) == 1 else 'files'}"
    return (Block("revoked", f"{count} came onto it after it was cleared", len(new), 0, new), *blocks)


def _standing(
    listing: CardListing | None,
    roll: RollStanding | None,
    blocks: tuple[Block, ...],
    clearance: Clearance | None,
    *,
    running: bool,
    partly: bool,
) -> Standing:
    steps = (
        (listing is None, Standing.NEVER_READ),
        (running, Standing.RUNNING),
        (roll is None and _is_empty(listing, blocks), Standing.EMPTY),
        (roll is None, Standing.UNREAD),
        (bool(blocks), Standing.BLOCKED),
        (clearance is not None, Standing.CLEARED),
        (partly, Standing.SIGNED),
    )
    return next((standing for applies, standing in steps if applies), Standing.CLEARABLE)


def _is_empty(listing: CardListing | None, blocks: tuple[Block, ...]) -> bool:
    """No file, and nothing else that would have to be covered either."""
    return listing is not None and listing.files == 0 and all(b.kind in ("nothing", "listing") for b in blocks)


def active_cards():
    """Cards of a camera, with what their cases need."""
    waivers = Prefetch("waivers", Waiver.objects.select_related("person"))
    return (
        Card.objects.exclude(camera=None)
        .select_related("camera__production__rule", "camera__plan")
        .prefetch_related(waivers)
        .order_by("camera__letter", "label")
    )
