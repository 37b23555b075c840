"""Every card's case: the facts, the verdict, the remedy, and where that leaves the card. All of it computed."""

import json
from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from functools import partial
from itertools import chain

from django.db.models import QuerySet

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import (
    CardFacts,
    CardStanding,
    CardVerdict,
    ClearanceFact,
    FileFact,
    Files,
    HoldFact,
    Known,
    RollFacts,
    Rule,
    Seen,
    SeenRoll,
    SeenWaiver,
    is_left,
    judge_card,
    judge_roll,
)
from ruggedraft.intake.folders import FINALS, SEALED
from ruggedraft.intake.models import Card, GoneFile
from ruggedraft.journal.clock import now
from ruggedraft.live.snapshot import when_over
from ruggedraft.productions.models import Ruled
from ruggedraft.rolls.gone import unanswered_of
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.stores.models import Store

from .card_rows import CardRow, LastClearance, LastListing, Stay, SummaryRow, card_rows
from .covers import remember, work_out
from .roll_cases import RollRemedy, roll_remedy
from .said import IN_USE, OpenHold, SignatureRow, said_of


@dataclass(frozen=True)
class Case:
    """rolls: what of its files is content of. roll: the newest of those, by whose tag the card is signed for.

    seen: what a signature would rest on, as it is now. digest: of that; empty where nothing could be signed
    void: signatures that do not stand any more, as what they were for has changed since
    gone: files that somebody has to answer for
    open_runs: subjects of its rolls' runs that have not ended
    each: every file with what is known of it, of a case that was judged in full
    """

    card: Card
    row: CardRow
    rolls: tuple[RollStanding, ...]
    facts: CardFacts
    rule: Rule
    verdict: CardVerdict
    signatures: tuple[SignatureRow, ...]
    holds: tuple[OpenHold, ...]
    seen: Seen | None
    digest: str
    gone: tuple[GoneFile, ...]
    each: tuple[tuple[FileFact, Known], ...]
    moment: datetime
    open_runs: frozenset[str]
    void: tuple[SignatureRow, ...] = ()

    @property
    def listing(self) -> LastListing | None:
        return self.row.listing

    @property
    def stay(self) -> Stay | None:
        return self.row.stay

    @property
    def clearance(self) -> LastClearance | None:
        return self.row.clearance

    @property
    def left(self) -> Files:
        """Files on the card that stayed there on purpose, that nobody took since or waived."""
        return self.facts.known.left

    @property
    def left_files(self) -> list[FileFact]:
        """The same one by one, of a case that was judged in full."""
        return [file for file, known in self.each if is_left(known)]

    @property
    def roll(self) -> RollStanding | None:
        return self.rolls[-1] if self.rolls else None

    @property
    def standing(self) -> CardStanding:
        return self.verdict.standing

    @property
    def returned(self) -> bool:
        """It was cleared and handed back, and is here again as it was."""
        clearance = self.facts.clearance
        return self.facts.in_reader and clearance is not None and clearance.handed_back_at is not None


def cases(cards: QuerySet[Card], places: Mapping[int, Store] | None = None) -> list[Case]:
    """The case of each of these cards, from summaries where they are of the newest facts.

    cards: of `active_cards`. places: every store by id, where the caller has them already
    """
    loaded = _Loaded(cards, places, in_full=False)
    return [loaded.case(row) for row in loaded.rows]


def case(card: Card) -> Case:
    """A card's case judged in full, from every file and every reading: what acts rest on."""
    loaded = _Loaded(active_cards().filter(pk=card.pk), None, in_full=True)
    if not loaded.rows:
        raise ActRefused(f"Card {card.label} belongs to no camera yet: say which in the set-up.")
    return loaded.case(loaded.rows[0])


class _Loaded:
    """What all the cases rest on, read in a number of queries that does not depend on how many cards there are."""

    def __init__(self, cards: QuerySet[Card], places: Mapping[int, Store] | None, *, in_full: bool) -> None:
        self.now = now()
        self.places = places_of_all() if places is None else places
        self.rows = card_rows(cards)
        self.rules: dict[int, tuple[Ruled, Mapping[str, object]]] = {}
        self.worked = work_out([row for row in self.rows if in_full or row.summary is None])
        when_over(partial(remember, [row for row in self.rows if row.card.pk in self.worked], self.worked))
        self.summaries = {row.card.pk: self._summary(row) for row in self.rows}
        on_cards = {pk: summary.rolls for pk, summary in self.summaries.items()}
        self.said = said_of(on_cards, (row.card.owner.pk for row in self.rows))
        self.standings = roll_standings(chain.from_iterable(on_cards.values()), self.places, in_full=in_full)
        self.gone = self._gone()

    def _gone(self) -> dict[int, list[GoneFile]]:
        gone = {pk: summary.gone for pk, summary in self.summaries.items()}
        return unanswered_of([row.card for row in self.rows if gone[row.card.pk].is_something], gone)

    def _summary(self, row: CardRow) -> SummaryRow:
        worked = self.worked.get(row.card.pk)
        if worked:
            return worked.summary
        if row.summary is None:
            raise LookupError(f"nothing was worked out of card {row.card.label}")
        return row.summary

    def _rule(self, row: CardRow) -> tuple[Ruled, Mapping[str, object]]:
        """The rules of a card's production, and what they ask as data; put together once for all its cards."""
        production = row.card.owner.production
        if production.pk not in self.rules:
            ruled = production.rule.ruled()
            self.rules[production.pk] = ruled, asdict(ruled.base)
        return self.rules[production.pk]

    def case(self, row: CardRow) -> Case:
        ruled, said = self._rule(row)
        rule = ruled.base
        summary, worked = self.summaries[row.card.pk], self.worked.get(row.card.pk)
        standings = tuple(self.standings[pk] for pk in summary.rolls)
        facts = self._facts(row, standings, ruled)
        seen = _seen(facts, row, summary.entries, said, rule, self.now) if standings else None
        digest = seen.digest if seen else ""
        signed = self.said.signed.get(summary.rolls[-1], ()) if standings else ()
        signatures = tuple(one for one in signed if digest and one.digest == digest)
        facts = replace(facts, signed_by=tuple(one.username for one in signatures))
        return Case(
            row.card, row, standings, facts, rule, judge_card(facts, rule, self.now), signatures,
            self._holds(row, summary.rolls), seen, digest,
            tuple(self.gone.get(row.card.pk, ())), worked.files if worked else (), self.now,
            self.said.open_runs, _void(signed, digest, row.clearance),
        )  # fmt: skip

    def _holds(self, row: CardRow, rolls: Iterable[int]) -> tuple[OpenHold, ...]:
        on_rolls = chain.from_iterable(self.said.holds.get(pk, ()) for pk in rolls)
        camera = self.said.camera_holds.get(row.card.owner.pk, ())
        return (*on_rolls, *self.said.card_holds.get(row.card.pk, ()), *camera)

    def _facts(self, row: CardRow, standings: tuple[RollStanding, ...], ruled: Ruled) -> CardFacts:
        listing, ran = row.listing, self.said.ran.get(row.card.pk, ())
        aside = self.said.aside.get(row.card.pk, IN_USE)
        own = ruled.of(row.card.owner)
        mine = {one.roll.pk for one in standings}
        return CardFacts(
            row.card.label, (), listing.began_at if listing else None, tuple(map(self._with_holds, standings)),
            waivers=row.waivers,
            gone=tuple(map(_file, self.gone.get(row.card.pk, ()))),
            confirmed_at=listing.confirmed_at if listing else None,
            in_reader=row.stay is not None,
            unwatched=row.stay is not None and row.stay.unwatched,
            running=any(run.open for run in ran),
            clearance=_clearance(row),
            ran=tuple(run.by for run in ran if run.roll in mine),
            cover=self.summaries[row.card.pk].cover,
            holds=_facts_of(self.said.card_holds.get(row.card.pk, ())),
            camera_holds=_facts_of(self.said.camera_holds.get(row.card.owner.pk, ())),
            out_of_use=aside.sentence,
            aside=aside.kind,
            doubts=self.said.doubts.get(row.card.pk, ()),
            own_rule=None if own == ruled.base else own,
            finals=row.card.kind == FINALS,
            package=row.card.kind == SEALED,
        )  # fmt: skip

    def _with_holds(self, standing: RollStanding) -> RollFacts:
        holds = self.said.holds.get(standing.roll.pk, ())
        return replace(standing.facts, holds=_facts_of(holds))


def _facts_of(holds: Iterable[OpenHold]) -> tuple[HoldFact, ...]:
    return tuple(hold.fact for hold in holds)


def _void(signed: Iterable[SignatureRow], digest: str, cleared: LastClearance | None) -> tuple[SignatureRow, ...]:
    """Signatures since the last clearance that do not stand any more, as what they were for has changed."""
    since = [one for one in signed if cleared is None or one.at > (cleared.revoked_at or cleared.at)]
    return tuple(one for one in since if one.digest != digest)


def _clearance(row: CardRow) -> ClearanceFact | None:
    """What it was cleared with is in the card's cover."""
    cleared = row.clearance
    if cleared is None:
        return None
    return ClearanceFact(
        cleared.at, frozenset(), cleared.handed_back_at, cleared.handed_to, cleared.revoked_at, cleared.revoked_by,
        cleared.revoked_why, cleared.out_when_revoked, cleared.read_since,
    )  # fmt: skip


def _file(gone: GoneFile) -> FileFact:
    return FileFact(gone.path, gone.size, gone.modified_ns, gone.fingerprint)


def with_signature(judged: Case, one_more: SignatureRow) -> Case:
    """The same case with one more signature, for whoever holds everything still."""
    signatures = (*judged.signatures, one_more)
    facts = replace(judged.facts, signed_by=tuple(one.username for one in signatures))
    return replace(judged, facts=facts, verdict=judge_card(facts, judged.rule, judged.moment), signatures=signatures)


def remedy_of(one: Case, places: Mapping[int, Store]) -> RollRemedy | None:
    """What would make a card that is not clear clearable, as far as copies are the trouble."""
    if one.standing is not CardStanding.BLOCKED:
        return None
    short = [of for of in one.rolls if not judge_roll(of.facts, one.rule, one.moment).met]
    return roll_remedy(short[-1], places, one.rule, one.moment, one.open_runs) if short else None


def _seen(
    facts: CardFacts, row: CardRow, entries: str, said: Mapping[str, object], rule: Rule, moment: datetime
) -> Seen | None:
    """What a signature would rest on: the card's files, its rolls and their counting copies, waivers, the rule."""
    if row.listing is None:
        return None
    waivers = tuple(sorted(SeenWaiver(*waiver.file, waiver.reason, waiver.by) for waiver in facts.waivers))
    rolls = tuple(
        SeenRoll(one.tag, one.files, one.bytes, one.waived, one.left, _own(one), _counting(one, rule, moment))
        for one in facts.rolls
    )
    own = asdict(facts.own_rule) if facts.own_rule else None
    return Seen(entries, facts.files, rolls, waivers, _words({"rule": said, "camera": own}))


def _own(roll: RollFacts) -> str:
    return "" if roll.own_rule is None else _words(asdict(roll.own_rule))


def _words(told: object) -> str:
    return json.dumps(told, default=str)


def _counting(roll: RollFacts, rule: Rule, moment: datetime) -> tuple[str, ...]:
    return tuple(sorted(copy.store.name for copy in judge_roll(roll, rule, moment).counting))


def active_cards() -> QuerySet[Card]:
    """Cards of a camera, with what their cases need."""
    cards = Card.objects.exclude(camera=None).select_related("camera__production__rule", "camera__plan")
    return cards.order_by("camera__letter", "label")
