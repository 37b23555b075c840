"""What an offload of a card would do: the tag, the folder, what goes where, and what speaks against it."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from enum import StrEnum

from ruggedraft.core.errors import ActRefused, PlanError
from ruggedraft.core.naming import EXT, NamingPlan, roll_folder, roll_tag
from ruggedraft.core.preflight import Demand, Refusal, preflight
from ruggedraft.core.redundancy import FileFact
from ruggedraft.core.rigs import Odd
from ruggedraft.core.sources import to_ledger
from ruggedraft.core.taking import EVERYTHING, Take
from ruggedraft.intake.models import Card, CardListing, GoneFile, Insertion
from ruggedraft.intake.queries import latest_listings, listed_facts
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Camera, Plan, Rig
from ruggedraft.rolls.gone import unanswered
from ruggedraft.rolls.models import Roll, RollFile
from ruggedraft.rolls.queries import goes_on, last_rolls, on_stores
from ruggedraft.rolls.readings import content_of
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import store_facts

from .choosing import Choice, Naming, choose, naming_of
from .rates import Rates
from .rigs import rig_now, shots_of


class Startable(StrEnum):
    """Whether an offload may start, and if not, why not."""

    READY = "ready"
    REFUSED = "refused"
    NOTHING_CHOSEN = "nothing chosen"
    ALL_HELD = "all held"
    """every file of the card is in the roll's copy on every store of the plan, as it was last read there"""
    CHOSEN_HELD = "chosen held"
    """the same of what is chosen; the card has more"""


@dataclass(frozen=True)
class Proposal:
    """roll: the roll that goes on, None for a new one.

    choice: which files go and where, None where all go under their own names and every store can hold those
    estimated_s: how long it will take, in seconds, None without a run to judge by
    uneven: what is odd about this card among those of its rig; starting anyway has to be said
    """

    card: Card
    camera: Camera
    plan: Plan
    listing: CardListing
    roll: Roll | None
    number: int
    tag: str
    shoot_day: date
    folder: str
    stores: tuple[Store, ...]
    demands: tuple[Demand, ...]
    refusals: tuple[Refusal, ...]
    held_files: int
    wanted: Take
    naming: Naming
    choice: Choice | None
    estimated_s: float | None
    uneven: tuple[str, ...]
    going_files: int
    going_bytes: int

    @property
    def startable(self) -> Startable:
        if self.going_files == 0:
            return Startable.NOTHING_CHOSEN
        if self.demands and all(demand.files == 0 and not demand.store.lost for demand in self.demands):
            return Startable.ALL_HELD if self.going_files == self.listing.files else Startable.CHOSEN_HELD
        return Startable.REFUSED if self.refusals else Startable.READY


def propose(card: Card, wanted: Take = EVERYTHING, to: Sequence[str] | None = None) -> Proposal:
    """Raises ActRefused with the question that has to be settled first.

    to: names of the stores, where they are not the plan's
    """
    made = propose_all([card], wanted, to)[card.pk]
    if isinstance(made, ActRefused):
        raise made
    return made


def propose_all(
    cards: Sequence[Card],
    wanted: Take = EVERYTHING,
    to: Sequence[str] | None = None,
    gone: Mapping[int, Sequence[GoneFile]] | None = None,
) -> dict[int, Proposal | ActRefused]:
    """What an offload of each card would do, or what has to be settled first; by the card's id.

    gone: from `rolls.gone.unanswered`, where the caller has it already
    """
    known = _Known(cards, to, gone)
    return {card.pk: _proposal_or_question(card, wanted, known) for card in cards}


class _Known:
    """What proposals for some cards rest on, read in a number of queries that does not depend on how many there are."""

    def __init__(
        self, cards: Sequence[Card], to: Sequence[str] | None, gone: Mapping[int, Sequence[GoneFile]] | None
    ) -> None:
        self.listings = latest_listings(cards)
        self.listed = listed_facts(self.listings.values())
        present = Insertion.objects.filter(card__in=cards, removed_at=None).select_related("reader__station")
        self.stays = {stay.card_id: stay for stay in present}
        self.gone = unanswered(cards) if gone is None else gone
        self.places = places_of_all()
        self.to = None if to is None else [_named(self.places, name) for name in to]
        through = Plan.stores.through.objects.filter(plan__in={card.camera.plan_id for card in cards if card.camera})
        self.of_plan: dict[int, set[int]] = {}
        for plan, store in through.values_list("plan_id", "store_id"):
            self.of_plan.setdefault(plan, set()).add(store)
        self.last = last_rolls(cards)
        self.content = content_of(self.last.values())
        self.standings = roll_standings((roll.pk for roll in self.last.values()), self.places)
        self.numbers = _Numbers({card.camera.production_id for card in cards if card.camera})
        self.rates = Rates()
        cameras = {card.camera_id for card in cards if card.camera_id}
        rigs = Rig.cameras.through.objects.filter(camera__in=cameras).select_related("rig").order_by("-rig_id")
        self.rigs = {row.camera_id: row.rig for row in rigs}

    def stores(self, plan: Plan) -> list[Store]:
        if self.to is not None:
            return self.to
        wanted = self.of_plan.get(plan.pk, set())
        return [place for pk, place in self.places.items() if pk in wanted]

    def roll_that_goes_on(self, card: Card, listed: Sequence[FileFact], fs_serial: str) -> Roll | None:
        """The roll that new files of this card would join, if there is one."""
        last = self.last.get(card.pk)
        if last is None:
            return None
        return last if goes_on(last, self.content.get(last.pk, ()), listed, fs_serial) else None


class _Numbers:
    """Which roll numbers and tags are taken in some productions."""

    def __init__(self, productions: Iterable[int]) -> None:
        rolls = Roll.objects.filter(production__in=list(productions))
        rows = rolls.values_list("production", "camera", "number", "tag")
        self._last: dict[int, int] = {}
        self._tags: set[tuple[int, str]] = set()
        for production, camera, number, tag in rows:
            self._last[camera] = max(number, self._last.get(camera, number))
            self._tags.add((production, tag))

    def next(self, camera: Camera, plan: Plan) -> int:
        """After the camera's last one, and after those of other cameras that share its prefix."""
        prefix, last = plan.roll_prefix or camera.letter, self._last.get(camera.pk)
        number = plan.roll_start if last is None else max(last + 1, plan.roll_start)
        while (camera.production_id, roll_tag(prefix, number, plan.roll_digits)) in self._tags:
            number += 1
        return number


def _named(places: Mapping[int, Store], name: str) -> Store:
    """Raises ActRefused."""
    found = next((place for place in places.values() if place.name == name), None)
    if found is None:
        raise ActRefused(f"There is no store '{name}'.")
    return found


def _proposal_or_question(card: Card, wanted: Take, known: _Known) -> Proposal | ActRefused:
    question = _question(card, known)
    if question:
        return ActRefused(question)
    try:
        return _propose(card, wanted, known)
    except ActRefused as error:
        return error


def _question(card: Card, known: _Known) -> str:
    """What has to be settled before there can be a proposal, in a sentence; empty if nothing has."""
    listing, stay, gone = known.listings.get(card.pk), known.stays.get(card.pk), known.gone.get(card.pk)
    if card.camera is None:
        return f"Card {card.label} belongs to no camera yet: say which in the set-up."
    if listing is None:
        return f"Card {card.label} has not been read yet."
    if stay and listing.insertion_id != stay.pk:  # what was on it before it came says nothing
        return f"Card {card.label} is in {stay.reader.name} and has not been read there yet."
    if stay and stay.levels_up < stay.inside:
        return (
            f"{stay.reader.name} shows a folder inside card {card.label}, not the card: have the whole card read first."
        )
    if gone:
        files = "1 file" if len(gone) == 1 else f"{len(gone):,} files"
        return (
            f"{files} that were on card {card.label} are not on it any more and in no copy, {gone[0].path} first: "
            "say what became of them, or that this is another card."
        )
    return "" if listing.files else f"There is no file on card {card.label}: there is nothing to offload."


def _propose(card: Card, wanted: Take, known: _Known) -> Proposal:
    camera, listing, stay = card.owner, known.listings[card.pk], known.stays.get(card.pk)
    plan, production, listed = camera.plan, camera.production, known.listed[listing.pk]
    to = known.stores(plan)
    roll = known.roll_that_goes_on(card, listed, stay.serial if stay else listing.insertion.serial)
    number = roll.number if roll else known.numbers.next(camera, plan)
    tag = roll.tag if roll else roll_tag(plan.roll_prefix or camera.letter, number, plan.roll_digits)
    day = roll.shoot_day if roll else _shoot_day(listing, camera)
    rig = known.rigs.get(camera.pk)
    shots = shots_of(listing) if rig and "{shot" in plan.names_template else {}
    naming = naming_of(plan, camera, tag=tag, card=card.label, day=day, shots=shots)
    choice, troubles = _choice(listing, wanted, naming, roll, to)
    files = [fact for fact in _going(listed, choice) if fact.size >= 0]  # links and the like are nobody's
    there = _held(known, roll, to)
    missing = _missing(files, there)
    station = stay.reader.station if stay else None  # a drive at another station is none that this card can go to
    demands = tuple(
        Demand(store_facts(store, station), sum(f.size for f in missing[store.pk]), len(missing[store.pk]))
        for store in to
    )
    refusals = preflight(demands, production.rule.as_rule())
    most_missing = max((len(files) for files in missing.values()), default=0)
    size = sum(fact.size for fact in files)
    return Proposal(
        card, camera, plan, listing, roll, number, tag, day, _folder(naming), tuple(to), demands,
        (*refusals, *troubles), len(files) - most_missing, wanted, naming, choice,
        known.rates.seconds(stay.reader if stay else None, to, size, len(files)),
        tuple(odd.sentence for odd in _uneven(rig, camera, choice)), len(files), size,
    )  # fmt: skip


def _held(known: _Known, roll: Roll | None, to: Iterable[Store]) -> dict[int, dict[str, FileFact]]:
    """What of a roll each store is known to hold, by store and path. Only a copy in between is gone through."""
    nothing: dict[str, FileFact] = {}
    if roll is None:
        return {store.pk: nothing for store in to}
    content = {file.path: file for file in known.content.get(roll.pk, ())}
    copies = {copy.store.pk: copy for copy in known.standings[roll.pk].copies}
    whole = {pk for pk, copy in copies.items() if copy.facts.whole and not known.standings[roll.pk].facts.waived}
    between = any(copy.readings and pk not in whole for pk, copy in copies.items())
    exact = on_stores(roll) if between else {}
    return {
        store.pk: content
        if store.pk in whole
        else {path: _fact(row) for path, row in exact[store.pk].held.items()}
        if store.pk in exact
        else nothing
        for store in to
    }


def _missing(files: Sequence[FileFact], there: Mapping[int, Mapping[str, FileFact]]) -> dict[int, list[FileFact]]:
    """What each store is not known to hold. Stores that hold the very same are gone through once."""
    found: dict[int, list[FileFact]] = {}
    by_what: dict[int, list[FileFact]] = {}
    for store, held in there.items():
        if id(held) not in by_what:
            by_what[id(held)] = [fact for fact in files if not _is_held(fact, held)]
        found[store] = by_what[id(held)]
    return found


def _fact(row: RollFile) -> FileFact:
    return FileFact(row.path, row.size, row.modified_ns, row.fingerprint)


def _is_held(fact: FileFact, there: Mapping[str, FileFact]) -> bool:
    held = there.get(fact.path)
    return held is not None and (fact.is_surely(held) or fact.may_be(held))


def _uneven(rig: Rig | None, camera: Camera, choice: Choice | None) -> list[Odd]:
    going = None if choice is None else [entry.path for entry in choice.files]
    return rig_now(rig).odd_of(camera.letter, going) if rig else []


def _folder(naming: Naming) -> str:
    try:
        return roll_folder(naming.plan, naming.values)
    except PlanError as error:
        raise ActRefused(f"The plan cannot be used: {error.sentence}") from error


def _choice(
    listing: CardListing, wanted: Take, naming: Naming, roll: Roll | None, to: Sequence[Store]
) -> tuple[Choice | None, list[Refusal]]:
    """None where nothing is left out or renamed and every store holds what Linux holds: the usual case is quick."""
    plain = wanted.everything and not naming.plan.names and all(store.file_system == EXT.name for store in to)
    if plain:
        return None, []
    try:
        choice = choose(listing, wanted, naming, roll, to)
    except PlanError as error:
        raise ActRefused(f"The plan cannot be used: {error.sentence}") from error
    troubles = []
    if not choice.files:
        troubles.append(Refusal("nothing", "Nothing on this card is chosen: there is nothing to offload."))
    if choice.collisions:
        first = min(choice.collisions)
        words = f"{len(choice.collisions):,} names would be given twice, '{printable(first)}' first: add {{name}}, "
        troubles.append(Refusal("names", words + "{counter} or {number} to the plan's names."))
    if choice.problems and not naming.mend:
        first_problem = choice.problems[0]
        words = f"{len(choice.problems):,} names do not fit on {first_problem.file_system}, "
        words += f"'{printable(first_problem.path)}' first ({first_problem.reason}): let the plan mend names, "
        troubles.append(Refusal("names", words + "or use other stores."))
    return choice, troubles


def printable(path: str) -> str:
    return path.encode("utf-8", "replace").decode()


def _going(listed: Sequence[FileFact], choice: Choice | None) -> Sequence[FileFact]:
    if choice is None:
        return listed
    going = {to_ledger(entry.path) for entry in choice.files}
    return [fact for fact in listed if fact.path in going]


def _shoot_day(listing: CardListing, camera: Camera) -> date:
    """The day of the first file, by the true time; today where a clock that is wrong says an impossible day."""
    production, today = camera.production, now()
    if listing.first_ns is None:
        return production.shoot_day(today)
    first = datetime.fromtimestamp(listing.first_ns / 1e9, UTC) - timedelta(seconds=camera.clock_ahead_s)
    day = production.shoot_day(first)
    possible = production.first_day - timedelta(days=1) <= day and first <= today + timedelta(hours=1)
    return day if possible else production.shoot_day(today)


def example_naming(
    listing: CardListing, plan: Plan, naming: NamingPlan, *, mend: bool, words: Mapping[str, str]
) -> tuple[str, Naming]:
    """The folder and the naming that a changed plan would give a card's next roll, as an example.

    words: the changed plan's job, group and text. Raises PlanError
    """
    card = _card_of(listing)
    camera = card.owner
    number = _Numbers([camera.production_id]).next(camera, plan)
    tag = roll_tag(plan.roll_prefix or camera.letter, number, plan.roll_digits)
    shots = shots_of(listing) if "{shot" in naming.names else {}
    day = _shoot_day(listing, camera)
    made = naming_of(plan, camera, tag=tag, card=card.label, day=day, shots=shots)
    values = made.values | {name: str(words[name]) for name in ("job", "group", "text")}
    return roll_folder(naming, values), Naming(naming, values, mend, shots)


def _card_of(listing: CardListing) -> Card:
    """Raises ActRefused."""
    if listing.card is None:
        raise ActRefused("Which card this is has not been settled yet.")
    return listing.card
