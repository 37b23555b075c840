"""What an offload of a card would do: the tag, the folder, what goes where, and what speaks against it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from enum import StrEnum

from django.db.models import Max

from ruggedraft.core.errors import ActRefused, PlanError
from ruggedraft.core.naming import EXT, NamingPlan, roll_folder, roll_tag
from ruggedraft.core.preflight import Demand, Refusal, preflight
from ruggedraft.core.redundancy import FileFact
from ruggedraft.core.rigs import Odd
from ruggedraft.core.sources import to_ledger
from ruggedraft.core.taking import EVERYTHING, Take
from ruggedraft.intake.models import Card, CardListing, Insertion
from ruggedraft.intake.queries import latest_listing, listed_facts, present_insertion
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Camera, Plan, Rig
from ruggedraft.rolls.gone import unanswered
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.queries import OnStore, goes_on, last_rolls, on_stores
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import store_facts, stores

from .choosing import Choice, Naming, choose, naming_of
from .rates import estimated_seconds
from .rigs import rig_now, rig_of, shots_of


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
    camera = card.camera
    if camera is None:
        raise ActRefused(f"Card {card.label} belongs to no camera yet: say which in the set-up.")
    listing = latest_listing(card)
    if listing is None:
        raise ActRefused(f"Card {card.label} has not been read yet.")
    stay = present_insertion(card)
    if stay and listing.insertion_id != stay.pk:  # what was on it before it came says nothing
        raise ActRefused(f"Card {card.label} is in {stay.reader.name} and has not been read there yet.")
    if stay and stay.levels_up < stay.inside:
        raise ActRefused(
            f"{stay.reader.name} shows a folder inside card {card.label}, not the card: have the whole card read first."
        )
    gone = unanswered([card]).get(card.pk)
    if gone:
        files = "1 file" if len(gone) == 1 else f"{len(gone):,} files"
        raise ActRefused(
            f"{files} that were on card {card.label} are not on it any more and in no copy, {gone[0].path} first: "
            "say what became of them, or that this is another card."
        )
    if listing.files == 0:
        raise ActRefused(f"There is no file on card {card.label}: there is nothing to offload.")
    return _propose(card, camera, listing, listed_facts([listing])[listing.pk], wanted, stay, _stores(camera.plan, to))


def _propose(
    card: Card,
    camera: Camera,
    listing: CardListing,
    listed: Sequence[FileFact],
    wanted: Take,
    stay: Insertion | None,
    wanted_stores: list[Store],
) -> Proposal:
    plan, production = camera.plan, camera.production
    roll = current_roll(card, listed, stay.serial if stay else listing.insertion.serial)
    number = roll.number if roll else _next_number(camera, plan)
    tag = roll.tag if roll else roll_tag(plan.roll_prefix or camera.letter, number, plan.roll_digits)
    day = roll.shoot_day if roll else _shoot_day(listing, camera)
    rig = rig_of(camera)
    shots = shots_of(listing) if rig and "{shot" in plan.names_template else {}
    naming = naming_of(plan, camera, tag=tag, card=card.label, day=day, shots=shots)
    choice, troubles = _choice(listing, wanted, naming, roll, wanted_stores)
    going = _going(listed, choice)
    there = on_stores(roll) if roll else {}
    missing = {store.pk: _missing(going, there.get(store.pk)) for store in wanted_stores}
    station = stay.reader.station if stay else None  # a drive at another station is none that this card can go to
    demands = tuple(
        Demand(store_facts(store, station), sum(f.size for f in missing[store.pk]), len(missing[store.pk]))
        for store in wanted_stores
    )
    refusals = preflight(demands, production.rule.as_rule())
    most_missing = max((len(files) for files in missing.values()), default=0)
    files = [fact for fact in going if fact.size >= 0]
    return Proposal(
        card, camera, plan, listing, roll, number, tag, day, _folder(naming), tuple(wanted_stores), demands,
        (*refusals, *troubles), len(files) - most_missing, wanted, naming, choice,
        estimated_seconds(
            stay.reader if stay else None, wanted_stores, sum(fact.size for fact in files), len(files)
        ),
        tuple(odd.sentence for odd in _uneven(rig, camera, choice)), len(files), sum(fact.size for fact in files),
    )  # fmt: skip


def current_roll(card: Card, listed: Sequence[FileFact], fs_serial: str) -> Roll | None:
    """The roll that new files of this card would join, if there is one."""
    last = last_rolls([card]).get(card.pk)
    if last is None:
        return None
    content = (FileFact(*row) for row in last.files.values_list("path", "size", "modified_ns", "fingerprint"))
    return last if goes_on(last, list(content), listed, fs_serial) else None


def _stores(plan: Plan, to: Sequence[str] | None) -> list[Store]:
    if to is None:
        return list(stores().filter(plans=plan))
    found = list(stores().filter(name__in=to))
    if missing := set(to) - {store.name for store in found}:
        raise ActRefused(f"There is no store '{min(missing)}'.")
    return found


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


def _next_number(camera: Camera, plan: Plan) -> int:
    """After the camera's last one, and after those of other cameras that share its prefix."""
    prefix = plan.roll_prefix or camera.letter
    last = camera.rolls.aggregate(last=Max("number"))["last"]
    number = plan.roll_start if last is None else max(last + 1, plan.roll_start)
    taken = set(Roll.objects.filter(production=camera.production, tag__startswith=prefix).values_list("tag", flat=True))
    while roll_tag(prefix, number, plan.roll_digits) in taken:
        number += 1
    return number


def _shoot_day(listing: CardListing, camera: Camera) -> date:
    """The day of the first file, by the true time; today where a clock that is wrong says an impossible day."""
    production, today = camera.production, now()
    if listing.first_ns is None:
        return production.shoot_day(today)
    first = datetime.fromtimestamp(listing.first_ns / 1e9, UTC) - timedelta(seconds=camera.clock_ahead_s)
    day = production.shoot_day(first)
    possible = production.first_day - timedelta(days=1) <= day and first <= today + timedelta(hours=1)
    return day if possible else production.shoot_day(today)


def _missing(going: Sequence[FileFact], there: OnStore | None) -> list[FileFact]:
    """The card's files that a store is not known to hold: links and the like are nobody's."""
    files = [fact for fact in going if fact.size >= 0]
    if there is None:
        return files
    return [fact for fact in files if not _is_held(fact, there)]


def _is_held(fact: FileFact, there: OnStore) -> bool:
    held = there.held.get(fact.path)
    if held is None:
        return False
    known = FileFact(held.path, held.size, held.modified_ns, held.fingerprint)
    return fact.is_surely(known) or fact.may_be(known)


def example_naming(
    listing: CardListing, plan: Plan, naming: NamingPlan, *, mend: bool, words: Mapping[str, str]
) -> tuple[str, Naming]:
    """The folder and the naming that a changed plan would give a card's next roll, as an example.

    words: the changed plan's job, group and text. Raises PlanError
    """
    camera = listing.card.camera
    tag = roll_tag(plan.roll_prefix or camera.letter, _next_number(camera, plan), plan.roll_digits)
    shots = shots_of(listing) if "{shot" in naming.names else {}
    day = _shoot_day(listing, camera)
    made = naming_of(plan, camera, tag=tag, card=listing.card.label, day=day, shots=shots)
    values = made.values | {name: str(words[name]) for name in ("job", "group", "text")}
    return roll_folder(naming, values), Naming(naming, values, mend, shots)
