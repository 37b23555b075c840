"""Loads what offloads of some cards would rest on, in as many queries for one card as for many."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.proposing import LastRoll, RollNumbers, Situation, StoreNow, goes_on
from ruggedraft.core.redundancy import FileFact
from ruggedraft.intake.models import Card, CardListing, GoneFile, Insertion
from ruggedraft.intake.queries import latest_listings, listed_facts
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.productions.models import Camera, Plan, Rig, UnitAway
from ruggedraft.rolls.gone import unanswered
from ruggedraft.rolls.models import Roll, RollFile
from ruggedraft.rolls.queries import last_rolls, on_stores
from ruggedraft.rolls.readings import RollStanding, content_lately
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import is_used_in, store_facts

from .choosing import plan_naming
from .models import Offload
from .rates import Rates
from .rigs import shots_of


@dataclass(frozen=True)
class AtHand:
    """What a caller has loaded already. By the card's id: stays, and gone from `rolls.gone.unanswered`.

    standings: of rolls that lie on these cards, by id
    offloads: the last of each card
    """

    stays: Mapping[int, Insertion]
    gone: Mapping[int, Sequence[GoneFile]]
    places: Mapping[int, Store]
    standings: Mapping[int, RollStanding]
    offloads: Mapping[int, Offload]


@dataclass(frozen=True)
class _Stay:
    """What a proposal needs of a card's stay in a reader; see `Situation`.

    station: a drive at another station is none that this card can go to
    """

    slot: str = ""
    read: bool = False
    inner: bool = False
    station: Station | None = None

    @classmethod
    def of(cls, row: Insertion | None, listing: CardListing | None) -> "_Stay":
        if row is None:
            return cls()
        read = listing is not None and listing.insertion_id == row.pk
        return cls(row.reader.name, read, row.levels_up < row.inside, row.reader.station)


class Loaded:
    """What offloads of some cards would rest on."""

    def __init__(self, cards: Sequence[Card], to: Sequence[str] | None, at_hand: AtHand | None) -> None:
        at_hand = at_hand or _at_hand(cards)
        cameras = {card.owner for card in cards if card.camera}
        self.listings = latest_listings(cards)
        self.stays = at_hand.stays
        self.rates = Rates()
        self._places = at_hand.places
        self._listed = listed_facts(self.listings.values())
        self._gone = at_hand.gone
        self._to = None if to is None else list(to)
        self._offloads = at_hand.offloads
        self._of_plan = _stores_of({camera.plan_id for camera in cameras})
        last = last_rolls(cards)
        self._content = content_lately(last.values())
        self.last = {pk: roll for pk, roll in last.items() if self._goes_on(pk, roll)}
        self._standings = {**at_hand.standings, **_standings(self.last.values(), at_hand)}
        self._numbers = Numbers({camera.production_id for camera in cameras})
        self.rigs = _rigs_of({camera.pk for camera in cameras})

    def named(self, card: Card) -> list[str] | None:
        """Stores that were asked for, now or for the offload that this one goes on from; None: the plan's.

        By the names that they have now.
        """
        before, roll = self._offloads.get(card.pk), self.last.get(card.pk)
        if self._to is not None or before is None or roll is None or before.roll_id != roll.pk:
            return self._to
        if before.other_stores is None or not before.targets:
            named: list[str] | None = before.other_stores
            return named
        return [self._places[store].name for store in before.targets]

    def stores(self, card: Card) -> list[Store]:
        named = self.named(card)
        if named is not None:
            return _all_named(self._used_for(card), named)
        wanted = self._of_plan.get(card.owner.plan_id, set())
        return [place for pk, place in self._places.items() if pk in wanted]

    def _used_for(self, card: Card) -> dict[int, Store]:
        """Places that the card's production uses."""
        production = card.owner.production_id
        return {pk: place for pk, place in self._places.items() if is_used_in(place, production)}

    def situation(self, card: Card) -> Situation | None:
        """None where the card has no camera."""
        if card.camera is None:
            return None
        camera, listing, roll = card.camera, self.listings.get(card.pk), self.last.get(card.pk)
        stay = _Stay.of(self.stays.get(card.pk), listing)
        return Situation(
            card.label,
            stay.slot,
            self._listed[listing.pk] if listing else None,
            listing.files if listing else 0,
            read_in_this_stay=stay.read,
            inner=stay.inner,
            gone=[FileFact(one.path, one.size, one.modified_ns) for one in self._gone.get(card.pk, ())],
            last=LastRoll(roll.tag, roll.number, roll.shoot_day) if roll else None,
            numbers=self._numbers.of(camera),
            day=shoot_day(listing, camera),
            naming=plan_naming(camera.plan, camera, card.label, self._shots(camera, listing)),
            stores=self._stores_now(card, roll, stay.station),
            rule=camera.production.rule.ruled().of(camera, roll.pk if roll else None),
        )

    def _goes_on(self, card: int, roll: Roll) -> bool:
        listing, stay = self.listings.get(card), self.stays.get(card)
        if listing is None:
            return False
        serial = stay.serial if stay else listing.insertion.serial
        content, listed = self._content.get(roll.pk, ()), self._listed[listing.pk]
        return goes_on(content, listed, roll_serial=roll.fs_serial, card_serial=serial)

    def _shots(self, camera: Camera, listing: CardListing | None) -> dict[str, int]:
        wanted = listing and camera.pk in self.rigs and "{shot" in camera.plan.names_template
        return shots_of(listing) if listing and wanted else {}

    def _stores_now(self, card: Card, roll: Roll | None, station: Station | None) -> list[StoreNow]:
        to = self.stores(card)
        held = self._held(roll, to)
        return [StoreNow(store_facts(store, station), store.file_system, held[store.pk]) for store in to]

    def _held(self, roll: Roll | None, to: Iterable[Store]) -> dict[int, Mapping[str, FileFact]]:
        """What of a roll each store is known to hold. Only a copy that is not whole is gone through."""
        nothing: dict[str, FileFact] = {}
        held: dict[int, Mapping[str, FileFact]] = {}
        if roll is not None:
            standing = self._standings[roll.pk]
            whole = set() if standing.facts.waived else {copy.store.pk for copy in standing.copies if copy.facts.whole}
            in_part = any(copy.readings and copy.store.pk not in whole for copy in standing.copies)
            content = {file.path: file for file in self._content.get(roll.pk, ())}
            held = {**(_in_part(roll) if in_part else {}), **dict.fromkeys(whole, content)}
        return {store.pk: held.get(store.pk, nothing) for store in to}


def _in_part(roll: Roll) -> dict[int, dict[str, FileFact]]:
    """By store and path, from every reading."""
    return {store: {path: _fact(row) for path, row in on.held.items()} for store, on in on_stores(roll).items()}


def _fact(row: RollFile) -> FileFact:
    return FileFact(row.path, row.size, row.modified_ns, row.fingerprint)


def _at_hand(cards: Sequence[Card]) -> AtHand:
    present = Insertion.objects.filter(card__in=cards, removed_at=None).select_related("reader__station")
    stays = {stay.card_id: stay for stay in present if stay.card_id}
    return AtHand(stays, unanswered(cards), places_of_all(), {}, last_offloads(cards))


def last_offloads(cards: Iterable[Card]) -> dict[int, Offload]:
    """The last offload of each card, by the card's id."""
    rows = Offload.objects.filter(card__in=list(cards)).order_by("card_id", "-pk").distinct("card_id")
    return {row.card_id: row for row in rows}


def _stores_of(plans: Collection[int]) -> dict[int, set[int]]:
    """Ids of each plan's stores."""
    found: dict[int, set[int]] = {}
    rows = Plan.stores.through.objects.filter(plan__in=plans)
    for plan, store in rows.values_list("plan_id", "store_id"):
        found.setdefault(plan, set()).add(store)
    return found


def _standings(rolls: Iterable[Roll], at_hand: AtHand) -> dict[int, RollStanding]:
    """Of those rolls that are not at hand."""
    more = [roll.pk for roll in rolls if roll.pk not in at_hand.standings]
    return roll_standings(more, at_hand.places) if more else {}


def _rigs_of(cameras: Collection[int]) -> dict[int, Rig]:
    """A camera's first rig, by the camera's id."""
    rows = Rig.cameras.through.objects.filter(camera__in=cameras).select_related("rig").order_by("-rig_id")
    return {row.camera_id: row.rig for row in rows}


class Numbers:
    """Which roll numbers and tags are taken in some productions."""

    def __init__(self, productions: Iterable[int]) -> None:
        wanted = list(productions)
        units = list(UnitAway.objects.filter(production__in=wanted))
        rolls = Roll.objects.filter(production__in=wanted)
        rows = rolls.values_list("production", "camera", "camera__letter", "number", "tag")
        self._ranges = {one: _Ranges.of(units, one) for one in wanted}
        self._last: dict[int, int] = {}
        self._tags: set[tuple[int, str]] = set()
        for production, camera, letter, number, tag in rows:
            if self._ranges[production].counts(letter, number):
                self._last[camera] = max(number, self._last.get(camera, number))
            self._tags.add((production, tag))

    def of(self, camera: Camera, plan: Plan | None = None) -> RollNumbers:
        """plan: the camera's, unless somebody tries another."""
        plan, ranges = plan or camera.plan, self._ranges[camera.production_id]
        return RollNumbers(
            plan.roll_prefix or camera.letter, plan.roll_digits, plan.roll_start, self._last.get(camera.pk),
            lambda tag: (camera.production_id, tag) in self._tags,
            ranges.kept.get(camera.letter, ()), ranges.own.get(camera.letter),
        )  # fmt: skip


@dataclass(frozen=True)
class _Ranges:
    """By camera's letter: numbers that are kept for units away, and this ledger's own where it is a unit's.

    theirs: those of every unit that there ever was
    """

    kept: Mapping[str, Sequence[tuple[int, int]]]
    theirs: Mapping[str, Sequence[tuple[int, int]]]
    own: Mapping[str, tuple[int, int]]

    @classmethod
    def of(cls, units: Iterable[UnitAway], production: int) -> "_Ranges":
        kept: dict[str, list[tuple[int, int]]] = {}
        theirs: dict[str, list[tuple[int, int]]] = {}
        own: dict[str, tuple[int, int]] = {}
        for unit in units:
            if unit.production_id != production:
                continue
            for letter, (first, last) in unit.numbers.items():
                if unit.here:
                    own[letter] = first, last
                    continue
                theirs.setdefault(letter, []).append((first, last))
                if unit.ended_at is None:
                    kept.setdefault(letter, []).append((first, last))
        return cls(kept, theirs, own)

    def counts(self, letter: str, number: int) -> bool:
        """Whether this ledger's own numbers go on after this one."""
        if letter in self.own:
            return self.own[letter][0] <= number <= self.own[letter][1]
        return not any(first <= number <= last for first, last in self.theirs.get(letter, ()))


def _all_named(places: Mapping[int, Store], names: Iterable[str]) -> list[Store]:
    return [_named(places, name) for name in names]


def _named(places: Mapping[int, Store], name: str) -> Store:
    """Raises ActRefused."""
    found = next((place for place in places.values() if place.name == name), None)
    if found is None:
        raise ActRefused(f"There is no store '{name}'.")
    return found


def shoot_day(listing: CardListing | None, camera: Camera) -> date:
    """The day of the first file, by the true time; today where a clock that is wrong says an impossible day."""
    production, today = camera.production, now()
    if listing is None or listing.first_ns is None:
        return production.shoot_day(today)
    first = camera.as_clock().true(datetime.fromtimestamp(listing.first_ns / 1e9, UTC))
    day = production.shoot_day(first)
    possible = production.first_day - timedelta(days=1) <= day and first <= today + timedelta(hours=1)
    return day if possible else production.shoot_day(today)
