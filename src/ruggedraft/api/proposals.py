"""What an offload would do, as the Bench shows it."""

from typing import Any

from ninja import Schema

from ruggedraft.core.preflight import Demand
from ruggedraft.core.sources import to_ledger
from ruggedraft.core.taking import Take
from ruggedraft.offloads.choosing import Choice
from ruggedraft.offloads.proposal import Proposal, Startable
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import sighting_of

_MOST_NAMES = 200


class TakeIn(Schema):
    """What is wanted of a card; parts left out do not restrict. Times: seconds since 1970-01-01 UTC."""

    only_new: bool = False
    from_s: float | None = None
    until_s: float | None = None
    folders: list[str] = []
    kinds: list[str] = []
    picked: list[str] | None = None

    def as_take(self) -> Take:
        """Raises ActRefused."""
        data: dict[str, Any] = self.model_dump()
        return Take.from_data(data)


class StoreDemandOut(Schema):
    """Room in bytes: what the store holds in all, what is free now, what this card would still have to put there."""

    store: str
    device: str
    location: str
    medium: str
    file_system: str
    online: bool
    total: int
    free: int
    missing_bytes: int
    missing_files: int
    refusal: str | None


class ProposalOut(Schema):
    """startable: whether it may start, and why not. hint: the same as a sentence, empty where refusals say it
    going_files, going_bytes: what is chosen of the card
    estimated_s: seconds it will take, null before anything was measured. uneven: what does not fit its rig.

    sidecars: notes about the roll are written beside its copies
    renames: names are given, or have to be looked at for the sake of a store
    """

    tag: str
    folder: str
    goes_on: bool
    held_files: int
    going_files: int
    going_bytes: int
    startable: Startable
    hint: str
    plan: str
    stores: list[StoreDemandOut]
    refusals: list[str]
    estimated_s: float | None
    uneven: list[str]
    sidecars: bool
    renames: bool

    @staticmethod
    def of(made: Proposal) -> "ProposalOut":
        by_store = {refusal.store: refusal.sentence for refusal in made.refusals if refusal.store}
        stores = {store.name: store for store in made.stores}
        return ProposalOut(
            tag=made.tag,
            folder=made.folder,
            goes_on=made.roll is not None,
            held_files=made.held_files,
            going_files=made.going_files,
            going_bytes=made.going_bytes,
            startable=made.startable,
            hint=_hint(made),
            plan=made.plan.name,
            stores=[_demand(d, stores[d.store.name], by_store.get(d.store.name)) for d in made.demands],
            refusals=[refusal.sentence for refusal in made.refusals],
            estimated_s=made.estimated_s,
            uneven=list(made.uneven),
            sidecars=made.plan.sidecars,
            renames=made.choice is not None,
        )


def _hint(made: Proposal) -> str:
    names = ", ".join(f"'{demand.store.name}'" for demand in made.demands)
    if made.startable is Startable.NOTHING_CHOSEN:
        return "Nothing of this card is chosen."
    if made.startable is Startable.ALL_HELD:
        return f"Every file on this card is in the copies of {made.tag} on {names}."
    if made.startable is Startable.CHOSEN_HELD:
        return f"What is chosen is in the copies of {made.tag} on {names}; the card has more."
    return "Refused before copying; nothing was written." if made.startable is Startable.REFUSED else ""


class NamedFileOut(Schema):
    """A file of the card and the path it would get below the roll's folder. trouble: why that will not do, if so."""

    path: str
    kept_as: str
    trouble: str


class NamesOut(Schema):
    """The first names of those that would be given, the troubled ones first.

    mended: names changed because a store's file system could not hold them
    whole: clips that keep their names because other files refer to them
    """

    names: list[NamedFileOut]
    files: int
    bytes: int
    left_files: int
    left_bytes: int
    collisions: int
    problems: int
    mended: bool
    whole: int

    @staticmethod
    def of(choice: Choice, *, mended: bool) -> "NamesOut":
        troubles = _troubles(choice)
        ordered = sorted(choice.files, key=lambda entry: (entry.path not in troubles, entry.path))
        return NamesOut(
            names=[
                NamedFileOut(
                    path=to_ledger(entry.path), kept_as=to_ledger(choice.kept_as[entry.path]),
                    trouble=troubles.get(entry.path, ""),
                )
                for entry in ordered[:_MOST_NAMES]
            ],
            files=len(choice.files),
            bytes=sum(entry.size for entry in choice.files),
            left_files=len(choice.left),
            left_bytes=sum(entry.size for entry in choice.left),
            collisions=len(choice.collisions),
            problems=len(choice.problems),
            mended=mended,
            whole=choice.whole,
        )  # fmt: skip


class ChoiceOut(Schema):
    proposal: ProposalOut
    names: NamesOut


def _troubles(choice: Choice) -> dict[str, str]:
    """By path on the card."""
    mends = {problem.mend: problem for problem in choice.problems}
    reasons = {problem.path: problem for problem in choice.problems}
    found = {}
    for path, kept in choice.kept_as.items():
        if kept in choice.collisions:
            found[path] = f"{choice.collisions[kept]} files would get this name"
        elif problem := reasons.get(kept) or mends.get(kept):
            found[path] = f"{problem.file_system}: {problem.reason}"
    return found


def _demand(demand: Demand, place: Store, refusal: str | None) -> StoreDemandOut:
    store, sighting = demand.store, sighting_of(place)
    return StoreDemandOut(
        store=store.name,
        device=place.device.name,
        location=store.location,
        medium=store.medium,
        file_system=place.file_system,
        online=store.online,
        total=sighting.total if sighting else 0,
        free=store.free,
        missing_bytes=demand.bytes,
        missing_files=demand.files,
        refusal=refusal,
    )
