"""Which files of a card go, and where to: the plan and the choice, applied to a listing."""

import json
import threading
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any
from zoneinfo import ZoneInfo

from cachetools import LRUCache

from ruggedraft.core.cards import CardDescription
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.naming import EXT, FILE_SYSTEMS, NameProblem, NamingPlan, name_files, name_problems
from ruggedraft.core.sources import Entry, from_ledger
from ruggedraft.core.taking import Take, take
from ruggedraft.intake.contents import ListedCard, described_card, listed_card
from ruggedraft.intake.models import CardListing
from ruggedraft.productions.models import Camera, Plan
from ruggedraft.rolls.matching import holdings
from ruggedraft.rolls.models import LeftBehind, Roll, RollFile
from ruggedraft.stores.models import Store


@dataclass(frozen=True)
class Naming:
    """A plan's folders and names with the values of one roll.

    mend: names that a store cannot hold are changed. shots: a rig's shot numbers by clips' main paths
    """

    plan: NamingPlan
    values: dict[str, str]
    mend: bool
    shots: dict[str, int] = field(default_factory=dict)

    def as_data(self) -> dict[str, Any]:
        plan = self.plan
        return {"folder": plan.folder, "names": plan.names, "start": plan.start, "mend": self.mend,
                "values": self.values, "shots": self.shots}  # fmt: skip

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "Naming":
        return cls(
            NamingPlan(data["folder"], data["names"], data["start"]),
            dict(data["values"]),
            data["mend"],
            dict(data.get("shots", {})),
        )


def naming_of(
    plan: Plan, camera: Camera, *, tag: str, card: str, day: date, shots: dict[str, int] | None = None
) -> Naming:
    values = {
        "production": camera.production.name, "date": day.isoformat(), "year": f"{day:%Y}", "month": f"{day:%m}",
        "day": f"{day:%d}", "camera": camera.letter, "model": camera.name, "roll": tag, "card": card,
        "job": plan.job, "group": plan.group, "text": plan.text,
    }  # fmt: skip
    return Naming(plan.naming(), values, plan.mend_names, shots or {})


@dataclass(frozen=True)
class Choice:
    """files: that go. left: that stay behind. kept_as: where each goes in the roll's folder, by its path on the card.

    collisions: paths that more than one file would get. problems: names that a store of the plan cannot hold, mended
    in kept_as if the plan says so
    whole: clips that keep their names because others refer to them by name
    """

    files: tuple[Entry, ...]
    left: tuple[Entry, ...]
    kept_as: dict[str, str]
    collisions: dict[str, int]
    problems: tuple[NameProblem, ...]
    whole: int


def everything(listing: CardListing) -> Choice:
    """Every file of a card, under its own name."""
    files = listed_card(listing).listing.files
    return Choice(files, (), {}, {}, (), 0)


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
    choice = _choose(listing, listed, described, wanted, naming, roll, stores)
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


def _choose(
    listing: CardListing,
    listed: ListedCard,
    described: CardDescription,
    wanted: Take,
    naming: Naming,
    roll: Roll | None,
    stores: Sequence[Store],
) -> Choice:
    taken = take(described, holdings(listing, listed, left_behind(listing)).held, wanted)
    zone = ZoneInfo(_owner(listing).production.time_zone)
    going = {entry.path for entry in taken.files}
    going_clips = tuple(clip for clip in described.clips if not going.isdisjoint(e.path for e in clip.entries))
    described = replace(described, clips=going_clips)
    names = name_files(described, naming.plan, naming.values, zone=zone, kept=_kept(roll), shots=naming.shots)
    kept_as = {entry.path: names.kept_as[entry.path] for entry in taken.files}
    sizes = {names.kept_as[entry.path]: entry.size for entry in taken.files}
    problems = _problems(sizes, stores)
    if naming.mend:
        mends = {problem.path: problem.mend for problem in problems}
        kept_as = {path: mends.get(kept, kept) for path, kept in kept_as.items()}
    twice = {path: count for path, count in names.collisions.items() if path in sizes}
    return Choice(taken.files, taken.left, kept_as, twice, problems, names.whole)


def _owner(listing: CardListing) -> Camera:
    if listing.card is None:
        raise ActRefused("Which card this is has not been settled yet.")
    return listing.card.owner


def _problems(sizes: Mapping[str, int], stores: Sequence[Store]) -> tuple[NameProblem, ...]:
    """Of every kind of file system among the stores, each name once."""
    kinds = {FILE_SYSTEMS.get(store.file_system, EXT) for store in stores}
    found: dict[str, NameProblem] = {}
    for kind in sorted(kinds, key=lambda one: one.name):
        for problem in name_problems(sizes.items(), kind):
            found.setdefault(problem.path, problem)
    return tuple(found.values())


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
