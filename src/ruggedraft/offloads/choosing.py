"""Which files of a card go, and where to: what was chosen, applied to a listing."""

import json
import threading
from collections.abc import Sequence
from zoneinfo import ZoneInfo

from cachetools import LRUCache

from ruggedraft.core.cards import CardDescription
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.proposing import Choice, Naming
from ruggedraft.core.proposing import choose as choose_of
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.taking import Take
from ruggedraft.intake.contents import described_card
from ruggedraft.intake.models import CardListing
from ruggedraft.productions.models import Camera, Plan
from ruggedraft.rolls.matching import holdings
from ruggedraft.rolls.models import LeftBehind, Roll, RollFile
from ruggedraft.stores.models import Store


def plan_naming(plan: Plan, camera: Camera, card: str, shots: dict[str, int]) -> Naming:
    """A plan's folders and names for a card of this label, without the values that a roll gives."""
    values = {
        "production": camera.production.name, "camera": camera.letter, "model": camera.name, "card": card,
        "job": plan.job, "fleet": plan.fleet, "text": plan.text,
    }  # fmt: skip
    return Naming(plan.naming(), values, plan.mend_names, shots)


def choose(listing: CardListing, wanted: Take, naming: Naming, roll: Roll | None, stores: Sequence[Store]) -> Choice:
    """Raises PlanError where the plan cannot name these files.

    Several screens ask the same of one card: an answer is kept for as long as nothing that it follows from changes.
    """
    listed, described = described_card(listing)
    key = _key(listing, wanted, naming, roll, stores)
    with _keeping:
        known = _lately.get(key)
    if known and known[0] is described:
        return known[1]
    held = holdings(listing, listed, left_behind(listing)).held
    zone = ZoneInfo(_owner(listing).production.time_zone)
    file_systems = {store.file_system for store in stores}
    choice = choose_of(described, held, wanted, naming, _kept(roll), file_systems, zone)
    with _keeping:
        _lately[key] = described, choice
    return choice


_lately: LRUCache[tuple[object, ...], tuple[CardDescription, Choice]] = LRUCache(8)
_keeping = threading.Lock()


def _key(
    listing: CardListing, wanted: Take, naming: Naming, roll: Roll | None, stores: Sequence[Store]
) -> tuple[object, ...]:
    """What a choice follows from, besides the card's description."""
    known = RollFile.objects.order_by("-pk").values_list("pk", flat=True).first()
    left = LeftBehind.objects.order_by("-pk").values_list("pk", flat=True).first()
    compared = listing.entries.exclude(checksum="").count()
    kinds = (*sorted({store.file_system for store in stores}), str(listing.version))
    said = json.dumps([wanted.as_data(), naming.as_data()], sort_keys=True)
    return listing.pk, listing.digest, said, roll.pk if roll else None, known, left, compared, kinds


def _owner(listing: CardListing) -> Camera:
    if listing.card is None:
        raise ActRefused("Which card this is has not been settled yet.")
    return listing.card.owner


def _kept(roll: Roll | None) -> dict[str, str]:
    if roll is None:
        return {}
    return {from_ledger(path): from_ledger(kept or path) for path, kept in roll.files.values_list("path", "kept_as")}


def left_behind(listing: CardListing) -> list[tuple[str, int, int]]:
    """Path, size and time of what stayed on purpose when rolls of this card's camera were taken."""
    if listing.card is None or listing.card.camera is None:
        return []
    rows = LeftBehind.objects.filter(roll__camera=listing.card.camera)
    return list(rows.values_list("path", "size", "modified_ns"))
