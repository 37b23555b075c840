"""Every card's case: the facts, the verdict, the remedy, and where that leaves the card. All of it computed."""

import hashlib
import json
from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from typing import TypeVar

from django.db import connection
from django.db.models import Max

from ruggedraft.core.redundancy import (
    CardFacts,
    CardStanding,
    CardVerdict,
    ClearanceFact,
    FileFact,
    HoldFact,
    Remedy,
    RollFacts,
    Rule,
    WaiverFact,
    judge_card,
    judge_roll,
    what_would_it_take,
)
from ruggedraft.intake.models import Card, CardListing, GoneFile, Insertion
from ruggedraft.intake.queries import latest_listings, listed_facts
from ruggedraft.journal.clock import now
from ruggedraft.offloads.models import Offload
from ruggedraft.rolls.gone import unanswered
from ruggedraft.rolls.models import LeftBehind, Roll, Waiver
from ruggedraft.rolls.queries import with_more_content
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.stores.queries import store_facts, stores

from .models import Clearance, Hold, Signature

_Row = TypeVar("_Row")


@dataclass(frozen=True)
class Case:
    """rolls: what of its files is content of. roll: the newest of those, by whose tag the card is signed for.

    digest: of everything a signature would rest on, as it is now
    left: files on the card that stayed there on purpose, that nobody took since or waived
    returned: it was cleared and handed back, and is here again as it was
    """

    card: Card
    listing: CardListing | None
    stay: Insertion | None
    rolls: tuple[RollStanding, ...]
    facts: CardFacts
    rule: Rule
    verdict: CardVerdict
    remedy: Remedy | None
    signatures: tuple[Signature, ...]
    clearance: Clearance | None
    digest: str
    holds: tuple[Hold, ...]
    waivers: tuple[Waiver, ...]
    left: tuple[FileFact, ...]
    gone: tuple[GoneFile, ...]
    moment: datetime

    @property
    def roll(self) -> RollStanding | None:
        return self.rolls[-1] if self.rolls else None

    @property
    def standing(self) -> CardStanding:
        return self.verdict.standing

    @property
    def returned(self) -> bool:
        clearance = self.facts.clearance
        return self.facts.in_reader and clearance is not None and clearance.handed_back_at is not None


def cases(cards: Iterable[Card]) -> list[Case]:
    """The case of each card that belongs to a camera."""
    ground = _Ground([card for card in cards if card.camera])
    return [ground.case(card) for card in ground.cards]


def case(card: Card) -> Case:
    return cases([card])[0]


class _Ground:
    """What all the cases rest on, read in a number of queries that does not depend on how many cards there are."""

    def __init__(self, cards: list[Card]) -> None:
        self.cards = cards
        self.now = now()
        self.places = [store_facts(store) for store in stores()]
        self.stays = {stay.card_id: stay for stay in _present(cards)}
        self.listings = self._listings()
        listed = listed_facts(self.listings.values())
        self.listed = {card: listed[listing.pk] for card, listing in self.listings.items()}
        self.waivers = _grouped(Waiver.objects.filter(card__in=cards).select_related("person", "listing"), "card_id")
        self.rolls = self._rolls()
        rolls = [standing.roll for standings in self.rolls.values() for standing in standings]
        open_holds = Hold.objects.filter(roll__in=rolls, lifted_at=None).select_related("placed_by")
        self.holds = _grouped(open_holds, "roll_id")
        signed = Signature.objects.filter(roll__in=rolls).select_related("person").order_by("id")
        self.signatures = _grouped(signed, "roll_id")
        self.clearances = self._clearances()
        cleared_on = [clearance.listing for clearance in self.clearances.values()]
        self.cleared = {pk: frozenset(facts) for pk, facts in listed_facts(cleared_on).items()}
        self.handed_back = self._handed_back()
        self.runs = _grouped(Offload.objects.filter(card__in=cards).select_related("person"), "card_id")
        self.left = _left(cards)
        self.gone = unanswered(cards)

    def _listings(self) -> dict[int, CardListing]:
        """The latest of each card. Of a card in a reader only what was listed in this very stay says anything."""
        found = latest_listings(self.cards)
        return {
            card: listing
            for card, listing in found.items()
            if card not in self.stays or listing.insertion_id == self.stays[card].pk
        }

    def _rolls(self) -> dict[int, list[RollStanding]]:
        """The rolls that a card's files are, or look like, content of; oldest first."""
        by_name, by_content = _rolls_like(self.listings.values()), _rolls_by_content(self.listings.values())
        wanted = {pk for found in (*by_name.values(), *by_content.values()) for pk in found}
        rolls = {roll.pk: roll for roll in Roll.objects.filter(pk__in=wanted)}
        standings = {one.roll.pk: one for one in roll_standings(rolls.values(), in_full=True, with_content=True)}
        found: dict[int, list[RollStanding]] = {}
        for card, listing in self.listings.items():
            read = by_content.get(listing.pk, {})
            mine = {pk for pk in by_name.get(listing.pk, ()) if _same_format(rolls[pk], listing)} | read.keys()
            found[card] = [with_more_content(standings[pk], read.get(pk, ())) for pk in sorted(mine)]
        return found

    def _clearances(self) -> dict[int, Clearance]:
        last = Clearance.objects.filter(card__in=self.cards).order_by("card_id", "-id").distinct("card_id")
        return {one.card_id: one for one in last.select_related("listing", "handed_back")}

    def _handed_back(self) -> dict[int, datetime]:
        """When each cleared card left our hands: by somebody's word, or by leaving its reader."""
        found = {}
        last = Insertion.objects.filter(card__in=self.clearances).exclude(removed_at=None).values("card")
        left = {row["card"]: row["at"] for row in last.annotate(at=Max("removed_at"))}
        for card, clearance in self.clearances.items():
            given = getattr(clearance, "handed_back", None)
            if given:
                found[card] = given.at
            elif card in left and left[card] >= clearance.at:
                found[card] = left[card]
        return found

    def case(self, card: Card) -> Case:
        rule = card.camera.production.rule.as_rule()
        listing, standings = self.listings.get(card.pk), tuple(self.rolls.get(card.pk, ()))
        facts = self._facts(card, listing, standings)
        digest = _digest(facts, listing, rule, self.now) if standings else ""
        newest = standings[-1].roll.pk if standings else None
        signatures = tuple(s for s in self.signatures.get(newest, ()) if digest and s.digest == digest)
        facts = replace(facts, signed_by=tuple(s.person.username for s in signatures))
        verdict = judge_card(facts, rule, self.now)
        return Case(
            card, listing, self.stays.get(card.pk), standings, facts, rule, verdict,
            self._remedy(standings, verdict, rule), signatures, self.clearances.get(card.pk), digest,
            tuple(hold for one in standings for hold in self.holds.get(one.roll.pk, ())),
            tuple(self._waivers_on(card, listing)), self._left_on(card, facts, standings),
            tuple(self.gone.get(card.pk, ())), self.now,
        )  # fmt: skip

    def _facts(self, card: Card, listing: CardListing | None, standings: tuple[RollStanding, ...]) -> CardFacts:
        runs, mine = self.runs.get(card.pk, []), {one.roll.pk for one in standings}
        clearance = self.clearances.get(card.pk)
        return CardFacts(
            card.label, self.listed.get(card.pk, ()), listing.began_at if listing else None,
            tuple(self._with_holds(one) for one in standings),
            waivers=tuple(_waiver_fact(waiver) for waiver in self._waivers_on(card, listing)),
            gone=tuple(FileFact(g.path, g.size, g.modified_ns, g.fingerprint) for g in self.gone.get(card.pk, ())),
            confirmed_at=listing.confirmed_at if listing else None,
            in_reader=card.pk in self.stays,
            running=any(run.finished_at is None for run in runs),
            clearance=clearance and ClearanceFact(
                clearance.at, self.cleared[clearance.listing_id], self.handed_back.get(card.pk)
            ),
            ran=tuple(run.person.username for run in runs if run.roll_id in mine),
        )  # fmt: skip

    def _with_holds(self, standing: RollStanding) -> RollFacts:
        holds = self.holds.get(standing.roll.pk, ())
        return replace(standing.facts, holds=tuple(HoldFact(h.reason, h.placed_by.shown_name) for h in holds))

    def _waivers_on(self, card: Card, listing: CardListing | None) -> list[Waiver]:
        """Waivers that may speak of what is on the card now. One without a fingerprint speaks of its own stay only."""
        return [
            waiver
            for waiver in self.waivers.get(card.pk, ())
            if waiver.fingerprint or (listing and waiver.listing.insertion_id == listing.insertion_id)
        ]

    def _left_on(self, card: Card, facts: CardFacts, standings: tuple[RollStanding, ...]) -> tuple[FileFact, ...]:
        """Left on purpose, lying there now, in no roll and not waived."""
        left = self.left.get(card.pk)
        if not left:
            return ()
        content = {file.seen for one in standings for file in one.facts.content}
        waived = {waiver.file.seen for waiver in facts.waivers}
        return tuple(
            entry
            for entry in facts.entries
            if any(entry.is_like(file) for file in left.get(entry.seen, ()))
            and entry.seen not in content
            and entry.seen not in waived
        )

    def _remedy(self, standings: tuple[RollStanding, ...], verdict: CardVerdict, rule: Rule) -> Remedy | None:
        if verdict.standing is not CardStanding.BLOCKED:
            return None
        short = [one.facts for one in standings if not judge_roll(one.facts, rule, self.now).met]
        return what_would_it_take(short[-1], self.places, rule, self.now) if short else None


def _present(cards: list[Card]) -> Iterable[Insertion]:
    return Insertion.objects.filter(card__in=cards, removed_at=None).select_related("reader")


def _same_format(roll: Roll, listing: CardListing) -> bool:
    """A format gives a card another file-system serial; where it does not, fingerprints tell."""
    serial = listing.insertion.serial
    return not (roll.fs_serial and serial) or roll.fs_serial == serial


_LIKE = """
SELECT DISTINCT l.id, f.roll_id
FROM intake_cardlisting l
JOIN intake_listedentry e ON e.listing_id = l.id AND e.kind = 'file'
JOIN rolls_roll r ON r.card_id = l.card_id
JOIN rolls_rollfile f ON f.roll_id = r.id AND f.path = e.path AND f.size = e.size
WHERE l.id = ANY(%s)
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


def _rolls_like(listings: Iterable[CardListing]) -> dict[int, set[int]]:
    """Rolls of the same card that have files of these names and sizes, by listing."""
    found: dict[int, set[int]] = {}
    for listing, roll in _rows(_LIKE, listings):
        found.setdefault(listing, set()).add(roll)
    return found


def _rolls_by_content(listings: Iterable[CardListing]) -> dict[int, dict[int, list[FileFact]]]:
    """Rolls that hold files which were read whole on these cards, by listing, with the files as the card has them."""
    found: dict[int, dict[int, list[FileFact]]] = {}
    for listing, roll, *facts in _rows(_BY_CONTENT, listings):
        found.setdefault(listing, {}).setdefault(roll, []).append(FileFact(*facts))
    return found


def _rows(query: str, listings: Iterable[CardListing]) -> list[tuple]:
    with connection.cursor() as cursor:
        cursor.execute(query, [[listing.pk for listing in listings]])
        return cursor.fetchall()


def _left(cards: list[Card]) -> dict[int, dict[tuple[str, int], list[FileFact]]]:
    rows = LeftBehind.objects.filter(roll__card__in=cards).values_list("roll__card", "path", "size", "modified_ns")
    found: dict[int, dict[tuple[str, int], list[FileFact]]] = {}
    for card, *facts in rows:
        fact = FileFact(*facts)
        found.setdefault(card, {}).setdefault(fact.seen, []).append(fact)
    return found


def _waiver_fact(row: Waiver) -> WaiverFact:
    return WaiverFact(FileFact(row.path, row.size, row.modified_ns, row.fingerprint), row.reason, row.person.shown_name)


def _grouped(rows: Iterable[_Row], key: str) -> dict[int, list[_Row]]:
    found: dict[int, list[_Row]] = {}
    for row in rows:
        found.setdefault(getattr(row, key), []).append(row)
    return found


def _digest(facts: CardFacts, listing: CardListing | None, rule: Rule, moment: datetime) -> str:
    """Of what a signature would rest on: the card's files, its rolls and their counting copies, waivers, the rule."""
    if listing is None:
        return ""
    rolls = [
        [one.tag, one.files, one.bytes, one.waived, one.left, *_counting(one, rule, moment)] for one in facts.rolls
    ]
    waived = sorted([*waiver.file, waiver.reason, waiver.by] for waiver in facts.waivers)
    told = [_entries_digest(listing, facts.entries), rolls, waived, _rule_data(rule)]
    return hashlib.sha256(json.dumps(told, default=str).encode()).hexdigest()


def _counting(roll: RollFacts, rule: Rule, moment: datetime) -> list[str]:
    return sorted(copy.store.name for copy in judge_roll(roll, rule, moment).counting)


def _rule_data(rule: Rule) -> Mapping[str, object]:
    return asdict(rule)


_digests: dict[tuple[int, int], str] = {}
_MOST_DIGESTS = 2000


def _entries_digest(listing: CardListing, entries: Iterable[FileFact]) -> str:
    key = listing.pk, listing.version
    found = _digests.get(key)
    if found is None:
        found = hashlib.sha256(json.dumps([listing.digest, *entries]).encode()).hexdigest()
        if len(_digests) > _MOST_DIGESTS:
            _digests.clear()
        _digests[key] = found
    return found


def active_cards():
    """Cards of a camera, with what their cases need."""
    return (
        Card.objects.exclude(camera=None)
        .select_related("camera__production__rule", "camera__plan")
        .order_by("camera__letter", "label")
    )
