"""What an offload of a card would do: the tag, the folder, what goes where, and what speaks against it."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

from django.db.models import Max

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.naming import render_folder, roll_tag
from ruggedraft.core.preflight import Demand, Refusal, preflight
from ruggedraft.core.redundancy import FileFact
from ruggedraft.intake.models import Card, CardListing
from ruggedraft.intake.queries import latest_listing, listed_facts, present_insertion
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Camera, Plan
from ruggedraft.rolls.models import CopyFault, Roll
from ruggedraft.rolls.queries import current_roll
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import store_facts, stores


@dataclass(frozen=True)
class Proposal:
    """roll: the roll that goes on, None for a new one. nothing_missing: every file is already on every store."""

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

    @property
    def nothing_missing(self) -> bool:
        return all(demand.files == 0 for demand in self.demands)


def propose(card: Card) -> Proposal:
    """Raises ActRefused with the question that has to be settled first."""
    camera = card.camera
    if camera is None:
        raise ActRefused(f"Card {card.label} belongs to no camera yet: say which in the set-up.")
    listing = latest_listing(card)
    if listing is None:
        raise ActRefused(f"Card {card.label} has not been read yet.")
    stay = present_insertion(card)
    if stay and stay.levels_up < stay.inside:
        raise ActRefused(
            f"{stay.reader.name} shows a folder inside card {card.label}, not the card: have the whole card read first."
        )
    if listing.files == 0:
        raise ActRefused(f"There is no file on card {card.label}: there is nothing to offload.")
    return _propose(card, camera, listing, listed_facts([listing])[listing.pk])


def _propose(card: Card, camera: Camera, listing: CardListing, listed: Sequence[FileFact]) -> Proposal:
    plan, production = camera.plan, camera.production
    roll = current_roll(card, listed)
    number = roll.number if roll else _next_number(camera, plan)
    tag = roll.tag if roll else roll_tag(camera.letter, number, plan.roll_digits)
    day = roll.shoot_day if roll else _shoot_day(listing, camera)
    words = {
        "production": production.name,
        "date": day.isoformat(),
        "camera": camera.letter,
        "roll": tag,
        "card": card.label,
    }
    wanted = list(stores().filter(plans=plan))
    missing = {store.pk: _missing(store, roll, listed) for store in wanted}
    demands = tuple(
        Demand(store_facts(store), sum(f.size for f in missing[store.pk]), len(missing[store.pk])) for store in wanted
    )
    refusals = preflight(demands, production.rule.as_rule())
    files = [fact for fact in listed if fact.size >= 0]
    most_missing = max((len(files) for files in missing.values()), default=0)
    return Proposal(
        card, camera, plan, listing, roll, number, tag, day, render_folder(plan.folder_template, words),
        tuple(wanted), demands, tuple(refusals), len(files) - most_missing,
    )  # fmt: skip


def _next_number(camera: Camera, plan: Plan) -> int:
    last = camera.rolls.aggregate(last=Max("number"))["last"]
    return plan.roll_start if last is None else max(last + 1, plan.roll_start)


def _shoot_day(listing: CardListing, camera: Camera) -> date:
    """The day of the first file, by the true time; today where a clock that is wrong says an impossible day."""
    zone, today = ZoneInfo(camera.production.time_zone), now()
    if listing.first_ns is None:
        return today.astimezone(zone).date()
    first = datetime.fromtimestamp(listing.first_ns / 1e9, UTC) - timedelta(seconds=camera.clock_ahead_s)
    day = first.astimezone(zone).date()
    possible = camera.production.first_day - timedelta(days=1) <= day and first <= today + timedelta(hours=1)
    return day if possible else today.astimezone(zone).date()


def _missing(store: Store, roll: Roll | None, listed: Iterable[FileFact]) -> list[FileFact]:
    """The card's files that this store is not known to hold: links and the like are nobody's."""
    files = [fact for fact in listed if fact.size >= 0]
    copy = roll.copies.filter(store=store).first() if roll else None
    last = copy.checks.order_by("-id").first() if copy else None
    if copy is None or last is None:
        return files
    held = copy.roll.files.filter(pk__lte=last.files_until)
    faulty = CopyFault.objects.filter(copy=copy, mended_by=None).values("file")
    known = {FileFact(*row) for row in held.exclude(pk__in=faulty).values_list("path", "size", "modified_ns")}
    return [fact for fact in files if fact not in known]
