"""Every card's case: the facts, the verdict, the remedy, and where that leaves the card. All of it computed."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum

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
from ruggedraft.intake.queries import entries_by_listing, file_fact, latest_listings
from ruggedraft.journal.clock import now
from ruggedraft.rolls.queries import RollStanding, current_roll, roll_standings
from ruggedraft.stores.queries import store_facts, stores

from .models import Clearance, Hold, Signature, Waiver


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
    blocks: tuple[Block, ...] = field(default=())


def cases(cards: Iterable[Card]) -> list[Case]:
    """The case of each card that belongs to a camera."""
    cards = [card for card in cards if card.camera]
    listings = latest_listings(cards)
    entries = entries_by_listing(listings.values())
    listed = {pk: [file_fact(entry) for entry in entries[listing.pk]] for pk, listing in listings.items()}
    rolls = {card.pk: current_roll(card, listed.get(card.pk)) for card in cards}
    open_rolls = [roll for roll in rolls.values() if roll]
    standings = {s.roll.pk: s for s in roll_standings(open_rolls, with_files=True)}
    places = [store_facts(store) for store in stores()]
    moment = now()
    found = []
    for card in cards:
        roll = rolls[card.pk]
        standing = standings[roll.pk] if roll else None
        found.append(_case(card, listings.get(card.pk), listed.get(card.pk, []), standing, places, moment))
    return found


def case(card: Card) -> Case:
    return cases([card])[0]


def _case(
    card: Card,
    listing: CardListing | None,
    listed: list[FileFact],
    roll: RollStanding | None,
    places: list,
    moment: datetime,
) -> Case:
    rule = card.camera.production.rule.as_rule()
    facts = _card_facts(card, listing, listed, roll)
    verdict = judge_card(facts, rule, moment)
    signatures = _signatures(roll, listing)
    clearance = Clearance.objects.filter(card=card, roll=roll.roll).order_by("-id").first() if roll else None
    signers = [signature.person.username for signature in signatures]
    ran = roll.roll.offloads.values_list("person__username", flat=True) if roll else ()
    missing = signatures_missing(rule, signers, ran)
    blocks = _since_clearance(clearance, verdict, listed)
    standing = _standing(card, listing, roll, blocks, bool(signatures) and missing > 0, clearance)
    remedy = None
    if roll and standing is Standing.BLOCKED:
        remedy = what_would_it_take(facts.rolls[0], places, rule, moment)
    return Case(card, listing, roll, facts, rule, verdict, remedy, signatures, missing, clearance, standing, blocks)


def _card_facts(
    card: Card, listing: CardListing | None, listed: list[FileFact], roll: RollStanding | None
) -> CardFacts:
    waivers = tuple(
        WaiverFact(FileFact(w.path, w.size, w.modified_ns), w.reason, w.person.shown_name) for w in card.waivers.all()
    )
    rolls = ()
    if roll:
        holds = Hold.objects.filter(roll=roll.roll, lifted_at=None).select_related("placed_by")
        open_holds = tuple(HoldFact(hold.reason, hold.placed_by.shown_name) for hold in holds)
        rolls = (_with_holds(roll, open_holds),)
    return CardFacts(card.label, tuple(listed), listing.read_at if listing else None, rolls, waivers)


def _with_holds(roll: RollStanding, holds: tuple[HoldFact, ...]):
    from dataclasses import replace

    return replace(roll.facts, holds=holds)


def _signatures(roll: RollStanding | None, listing: CardListing | None) -> tuple[Signature, ...]:
    """Signatures stand only for the content they were given for, and not for a clearance that is behind them."""
    if roll is None or listing is None:
        return ()
    rows = Signature.objects.filter(roll=roll.roll, digest=listing.digest).select_related("person")
    return tuple(rows.order_by("id"))


def _since_clearance(clearance: Clearance | None, verdict: CardVerdict, listed: list[FileFact]) -> tuple[Block, ...]:
    """A decided clearance does not lapse because the listing grows old, but anything else that blocks ends it."""
    if clearance is None:
        return verdict.blocks
    blocks = tuple(block for block in verdict.blocks if block.kind != "listing")
    cleared = {file_fact(entry) for entry in clearance.listing.entries.all()}
    new = tuple(file.path for file in listed if file not in cleared)
    if new:
        count = f"{len(new):,} {'file' if len(new) == 1 else 'files'}"
        blocks = (Block("revoked", f"{count} came onto it after it was cleared", len(new), 0, new), *blocks)
    return blocks


def _standing(
    card: Card,
    listing: CardListing | None,
    roll: RollStanding | None,
    blocks: tuple[Block, ...],
    partly_signed: bool,
    clearance: Clearance | None,
) -> Standing:
    steps = (
        (listing is None, Standing.NEVER_READ),
        (card.offloads.filter(finished_at=None).exists(), Standing.RUNNING),
        (bool(listing) and listing.files == 0 and not blocks_beside_nothing(blocks), Standing.EMPTY),
        (roll is None, Standing.UNREAD),
        (bool(blocks), Standing.BLOCKED),
        (clearance is not None, Standing.CLEARED),
        (partly_signed, Standing.SIGNED),
    )
    return next((standing for applies, standing in steps if applies), Standing.CLEARABLE)


def blocks_beside_nothing(blocks: tuple[Block, ...]) -> bool:
    return any(block.kind not in ("nothing", "listing") for block in blocks)


def active_cards():
    """Cards of a camera, with what their cases need."""
    waivers = Prefetch("waivers", Waiver.objects.select_related("person"))
    return (
        Card.objects.exclude(camera=None)
        .select_related("camera__production__rule", "camera__plan")
        .prefetch_related(waivers)
        .order_by("camera__letter", "label")
    )
