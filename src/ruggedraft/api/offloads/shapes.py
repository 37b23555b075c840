"""What an offload would do, and what the queue holds."""

from collections.abc import Mapping
from typing import Any

from pydantic import BaseModel

from ruggedraft.core.cards import Clip
from ruggedraft.core.preflight import Demand
from ruggedraft.core.proposing import Choice, Offer, Startable
from ruggedraft.core.rigs import Alignment, Odd
from ruggedraft.core.sources import to_ledger
from ruggedraft.core.taking import Take
from ruggedraft.offloads.proposal import Proposal
from ruggedraft.offloads.queue import Queued, StationQueue
from ruggedraft.offloads.rigs import RigCard, RigNow
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import sighting_of

from ..shapes import CameraOut

_MOST_NAMES = 200


class TakeIn(BaseModel):
    """What is wanted of a card; parts left out do not restrict. Times: seconds since 1970-01-01 UTC.

    to: names of the stores it goes to, where they are not its plan's
    """

    only_new: bool = False
    from_s: float | None = None
    until_s: float | None = None
    folders: list[str] = []
    kinds: list[str] = []
    picked: list[str] | None = None
    to: list[str] | None = None

    def as_take(self) -> Take:
        """Raises ActRefused."""
        data: dict[str, Any] = self.model_dump(exclude={"to"})
        return Take.from_data(data)


class StoreDemandOut(BaseModel):
    """Room in bytes: what the store holds in all, what is free now, what this card would still have to put there.

    attests: its server's own word is taken for what a run writes there, instead of reading back
    """

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
    attests: bool


class ProposalOut(BaseModel):
    """startable: whether it may start, and why not. hint: the same as a sentence, empty where refusals say it
    short: what the rule goes on asking for when these stores hold it: it may start all the same
    going_files, going_bytes: what is chosen of the card
    estimated_s: seconds it will take, null before anything was measured. uneven: what does not fit its rig.

    sidecars: notes about the roll are written beside its copies
    other_stores: the stores are others than the plan's
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
    short: list[str]
    estimated_s: float | None
    uneven: list[str]
    sidecars: bool
    renames: bool
    other_stores: bool

    @staticmethod
    def of(made: Proposal) -> "ProposalOut":
        offer = made.offer
        by_store = {refusal.store: refusal.sentence for refusal in offer.refusals if refusal.store}
        stores = {store.name: store for store in made.stores}
        return ProposalOut(
            tag=offer.tag,
            folder=offer.folder,
            goes_on=offer.goes_on,
            held_files=offer.held_files,
            going_files=offer.going_files,
            going_bytes=offer.going_bytes,
            startable=offer.startable,
            hint=_hint(offer),
            plan=made.plan.name,
            stores=[_demand(d, stores[d.store.name], by_store.get(d.store.name)) for d in offer.demands],
            refusals=[refusal.sentence for refusal in offer.refusals],
            short=[one.sentence for one in offer.short],
            estimated_s=made.estimated_s,
            uneven=list(made.uneven),
            sidecars=made.plan.sidecars,
            renames=offer.choice is not None,
            other_stores=made.to is not None,
        )


class NamedFileOut(BaseModel):
    """A file of the card and the path it would get below the roll's folder. trouble: why that will not do, if so."""

    path: str
    kept_as: str
    trouble: str


class NamesOut(BaseModel):
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


class ChoiceOut(BaseModel):
    proposal: ProposalOut
    names: NamesOut


class StartIn(BaseModel):
    """take: what is wanted of the card, null for everything. uneven: it may go though it does not fit its rig.

    twice: the card is read a second time
    """

    tag: str
    take: TakeIn | None = None
    uneven: bool = False
    notes: str = ""
    twice: bool = False


class JoinChaptersIn(BaseModel):
    """path: of the recording's first file on the card."""

    path: str


class QueuedOut(BaseModel):
    """A run. free_in_s: seconds until its card is free, null while it is paused.

    waits_for: names of the stores that bear no further run, where it waits for one
    tag, label, camera: empty of another production's, which stands in the same queue
    """

    id: int
    tag: str
    label: str
    camera: CameraOut | None
    running: bool
    paused: bool
    cancelling: bool
    free_in_s: float | None
    waits_for: list[str]

    @classmethod
    def of(cls, one: Queued, production: int) -> "QueuedOut":
        run, roll = one.offload, one.offload.roll
        mine = roll.production_id == production
        return cls(
            id=run.pk, tag=roll.tag if mine else "", label=run.card.label if mine else "",
            camera=CameraOut.of(roll.camera) if mine else None, running=one.running, paused=run.held_back,
            cancelling=run.cancel_asked_at is not None, free_in_s=one.free_in_s, waits_for=list(one.waits_for),
        )  # fmt: skip


class QueueOut(BaseModel):
    """In the order in which they go. best: ids of the waiting ones in an order that frees cards sooner, if any."""

    station: str
    runs: list[QueuedOut]
    best: list[int]

    @staticmethod
    def of(queue: StationQueue, production: int) -> "QueueOut":
        """As people of a production (id) see it."""
        runs = [QueuedOut.of(one, production) for one in queue.queued]
        return QueueOut(station=queue.station.name, best=list(queue.best), runs=runs)


class BringIn(BaseModel):
    """store: its name."""

    store: str


class OrderIn(BaseModel):
    ids: list[int]


class RigClipOut(BaseModel):
    """starts: seconds since 1970-01-01 UTC by the rig's clock. shot: its number, null if in none. odd: its kind."""

    name: str
    path: str
    starts: float
    length: float
    shot: int | None
    odd: str


class RigRowOut(BaseModel):
    """A camera's card. missing: numbers of the shots it has no clip of. ahead_s: its clock against the rig's."""

    camera: CameraOut
    card_id: int
    label: str
    slot: str
    ahead_s: float
    clips: list[RigClipOut]
    missing: list[int]


class ShotOut(BaseModel):
    number: int
    starts: float
    length: float


class RigOut(BaseModel):
    """odd: sentences, in order of time."""

    name: str
    cameras: list[str]
    rows: list[RigRowOut]
    shots: list[ShotOut]
    odd: list[str]

    @staticmethod
    def of(now: RigNow) -> "RigOut":
        lined = now.lined_up
        letters = list(now.rig.cameras.values_list("letter", flat=True))
        return RigOut(
            name=now.rig.name,
            cameras=letters,
            rows=_rows(now),
            shots=[ShotOut(number=s.number, starts=s.start, length=s.length) for s in lined.shots] if lined else [],
            odd=[odd.sentence + "." for odd in lined.odd] if lined else [],
        )


def _hint(made: Offer) -> str:
    names = ", ".join(f"'{demand.store.name}'" for demand in made.demands)
    if made.startable is Startable.NOTHING_CHOSEN:
        return "Nothing of this card is chosen."
    if made.startable is Startable.ALL_HELD:
        return f"Every file on this card is in the copies of {made.tag} on {names}."
    if made.startable is Startable.CHOSEN_HELD:
        return f"What is chosen is in the copies of {made.tag} on {names}; the card has more."
    return "Refused before copying; nothing was written." if made.startable is Startable.REFUSED else ""


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
        attests=place.attests,
    )


def _rows(now: RigNow) -> list[RigRowOut]:
    lined = now.lined_up or Alignment((), (), {})
    odd_of = {(odd.camera, odd.clip.path): odd for odd in lined.odd if odd.clip}
    shot_of: dict[tuple[str, str], int | None]
    shot_of = {(clip.camera, clip.path): shot.number for shot in lined.shots for clip in shot.clips.values()}
    shot_of |= {key: odd.shot for key, odd in odd_of.items()}
    return [
        RigRowOut(
            camera=CameraOut.of(card.camera), card_id=card.card.pk, label=card.card.label, slot=card.slot,
            ahead_s=round(lined.ahead_s.get(card.camera.letter, 0.0), 2), missing=_lacks(lined, card.camera.letter),
            clips=[_rig_clip(card, clip, lined, shot_of, odd_of) for clip in card.clips],
        )
        for card in now.cards
    ]  # fmt: skip


def _lacks(lined: Alignment, letter: str) -> list[int]:
    """Numbers of the shots of which a camera has no clip."""
    return [odd.shot for odd in lined.odd if odd.camera == letter and odd.clip is None and odd.shot]


def _rig_clip(
    card: RigCard,
    clip: Clip,
    lined: Alignment,
    shot_of: Mapping[tuple[str, str], int | None],
    odd_of: Mapping[tuple[str, str], Odd],
) -> RigClipOut:
    letter, path = card.camera.letter, clip.main.path
    odd = odd_of.get((letter, path))
    starts = clip.starts.timestamp() if clip.starts else 0.0
    return RigClipOut(
        name=clip.name, path=path, starts=starts - lined.ahead_s.get(letter, 0.0), length=clip.duration_s,
        shot=shot_of.get((letter, path)), odd=odd.kind if odd else "",
    )  # fmt: skip
