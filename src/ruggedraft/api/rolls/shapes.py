"""Rolls and their copies, as Tally and a roll's page show them."""

from collections.abc import Mapping
from datetime import date, datetime
from typing import Literal

from pydantic import BaseModel

from ruggedraft.checks.models import CheckRun
from ruggedraft.clearing.models import Hold
from ruggedraft.clearing.roll_cases import RollCase, RollRemedy, roll_remedy
from ruggedraft.clearing.said import OpenHold
from ruggedraft.clearing.tally import Day, Sought
from ruggedraft.core.evidence import Level, Result
from ruggedraft.core.redundancy import (
    Block,
    BlockKind,
    CopyState,
    HoldEnd,
    RollState,
    Rule,
    Step,
    StepKind,
    WaiverFact,
    copy_state,
    rule_for,
)
from ruggedraft.core.runs import RunKind, RunState
from ruggedraft.core.stores import StoreKind
from ruggedraft.offloads.models import Feed
from ruggedraft.productions.models import Production
from ruggedraft.rolls.footage import FileFootage
from ruggedraft.rolls.models import Origin, RollFile
from ruggedraft.rolls.readings import CopyStanding
from ruggedraft.stores.models import Store

from ..shapes import CameraOut
from ..stores.shapes import StoreColumn


class BlockOut(BaseModel):
    kind: BlockKind
    sentence: str
    have: int
    need: int
    paths: list[str]

    @staticmethod
    def of(block: Block) -> "BlockOut":
        return BlockOut(
            kind=block.kind, sentence=block.sentence, have=block.have, need=block.need, paths=list(block.paths[:50])
        )


class PlankOut(BaseModel):
    """A copy as its mark needs it.

    files, bytes: what it is known to hold; missing_files of the roll it is not, broken_files of them are damaged or
        gone
    read_at: when the oldest reading began that its level rests on. looked_at: when names and sizes were last compared
    ever_read: there is evidence of it, good or bad, so that it can be checked
    same_device: another copy of the roll is on this device, so that this one does not count twice
    sealed: it is one sealed file, of which something is known to be whole; not while one is still being written
    """

    copy_id: int
    store: str
    device: str
    location: str
    state: CopyState
    level: Level
    read_at: datetime | None
    looked_at: datetime | None
    online: bool
    ever_read: bool
    files: int
    bytes: int
    missing_files: int
    broken_files: int
    counts: bool
    same_device: bool
    sealed: bool

    @staticmethod
    def all_of(copies: tuple[CopyStanding, ...], rule: Rule, moment: datetime) -> "list[PlankOut]":
        planks, devices = [], frozenset[str]()
        for standing in copies:
            planks.append(PlankOut.of(standing, rule, moment, devices))
            devices |= standing.facts.store.devices
        return planks

    @staticmethod
    def of(standing: CopyStanding, rule: Rule, moment: datetime, devices: frozenset[str]) -> "PlankOut":
        facts = standing.facts
        state = copy_state(facts, rule, moment)
        return PlankOut(
            copy_id=standing.id,
            store=facts.store.name,
            device=standing.store.device.name,
            location=facts.store.location,
            state=state,
            level=Level.of(facts.level),
            read_at=facts.read_at,
            looked_at=facts.looked_at,
            online=facts.store.online,
            ever_read=standing.readings > 0,
            files=facts.files,
            bytes=facts.bytes,
            missing_files=facts.missing_files,
            broken_files=facts.broken_files,
            counts=state is CopyState.VERIFIED,
            same_device=bool(facts.store.devices & devices),
            sealed=standing.store.kind == StoreKind.PACKAGES and facts.files > 0,
        )


class StepOut(BaseModel):
    """Something to do on one store that brings a roll nearer to its rule.

    copy_id: the copy that is to be checked or mended; null where there is none yet
    under_way: it is being done, or waits its turn. then_check: what is written there has to be checked afterwards
    """

    act: StepKind
    roll_id: int
    tag: str
    store: str
    copy_id: int | None
    sentence: str
    under_way: bool
    then_check: bool

    @staticmethod
    def all_of(remedy: RollRemedy | None) -> "list[StepOut]":
        if remedy is None:
            return []
        roll, copies = remedy.standing.roll, {copy.store.name: copy.id for copy in remedy.standing.copies}
        return [
            StepOut(
                act=step.act, roll_id=roll.pk, tag=roll.tag, store=step.store, copy_id=copies.get(step.store),
                sentence=step.sentence, under_way=_subject(step, copies.get(step.store)) in remedy.open_runs,
                then_check=step.then_check,
            )
            for step in remedy.steps
        ]  # fmt: skip


def _subject(step: Step, copy_id: int | None) -> str:
    if copy_id is None:
        return ""
    return CheckRun.subject_of(copy_id) if step.act is StepKind.CHECK else Feed.subject_of(copy_id)


class RollOut(BaseModel):
    """files, bytes: what a whole copy must hold. unread: of those, never read off the card.

    waived: files that were said to need no copy. left: files that stayed on the card on purpose
    """

    roll_id: int
    tag: str
    camera: CameraOut
    card: str
    shoot_day: str
    state: RollState
    files: int
    bytes: int
    unread: int
    waived: int
    left: int
    cleared: bool
    needed_copies: int
    blocks: list[BlockOut]
    planks: list[PlankOut]
    remedy: list[StepOut]

    @staticmethod
    def of(case: RollCase, rule: Rule, moment: datetime, places: Mapping[int, Store]) -> "RollOut":
        roll, facts = case.standing.roll, case.standing.facts
        rule = rule_for(facts, rule)
        return RollOut(
            roll_id=roll.pk,
            tag=roll.tag,
            camera=CameraOut.of(roll.camera),
            card=roll.card.label,
            shoot_day=roll.shoot_day.isoformat(),
            state=case.state,
            files=facts.files,
            bytes=facts.bytes,
            unread=facts.unread,
            waived=facts.waived,
            left=facts.left,
            cleared=case.cleared,
            needed_copies=rule.copies,
            blocks=[BlockOut.of(block) for block in case.verdict.blocks],
            planks=PlankOut.all_of(case.standing.copies, rule, moment),
            remedy=StepOut.all_of(_remedy(case, rule, moment, places)),
        )


def _remedy(case: RollCase, rule: Rule, moment: datetime, places: Mapping[int, Store]) -> RollRemedy | None:
    return None if case.verdict.met else roll_remedy(case.standing, places, rule, moment, case.open_runs)


class WaiverOut(BaseModel):
    path: str
    reason: str
    by: str

    @staticmethod
    def of(waiver: WaiverFact) -> "WaiverOut":
        return WaiverOut(path=waiver.file.path, reason=waiver.reason, by=waiver.by)


class HoldOut(BaseModel):
    """on: what it was placed on. ends: what ends it beside somebody lifting it. refusal: somebody would not sign"""

    id: int
    on: str
    reason: str
    by: str
    ends: HoldEnd
    until: datetime | None
    refusal: bool

    @classmethod
    def of_open(cls, hold: OpenHold) -> "HoldOut":
        return cls(
            id=hold.id, on=hold.on, reason=hold.reason, by=hold.by, ends=hold.ends, until=hold.until,
            refusal=hold.refusal,
        )  # fmt: skip

    @classmethod
    def of(cls, hold: Hold) -> "HoldOut":
        return cls(
            id=hold.pk, on=hold.on, reason=hold.reason, by=hold.placed_by.shown_name, ends=HoldEnd(hold.ends),
            until=hold.until, refusal=hold.refusal,
        )  # fmt: skip


class DeliveryIn(BaseModel):
    """tags: of the rolls. to: to whom, in words"""

    tags: list[str]
    to: str


class OpeningIn(BaseModel):
    """path: of the clip's main file"""

    path: str


class DropIn(BaseModel):
    paths: list[str]
    reason: str


class SoughtIn(BaseModel):
    """Which rolls are asked for; what is left out asks for all.

    text: part of a roll's tag or of its card's label. on, not_on: a store on which a copy of it was read, or never was
    day: of shooting; "today": whichever that is. changed: only those that are not as you last saw them
    """

    day: date | Literal["today"] | None = None
    camera: str = ""
    state: RollState | None = None
    on: str = ""
    not_on: str = ""
    text: str = ""
    changed: bool = False

    def as_sought(self, today: date, rolls: frozenset[int] | None) -> Sought:
        day = today if self.day == "today" else self.day
        return Sought(day, self.camera, self.state, self.on, self.not_on, self.text, rolls)


class DayOut(BaseModel):
    """What was shot on a day, of what is asked for. number: of the shoot; the first day is 1. unsafe: of the rolls"""

    day: date
    number: int
    rolls: int
    unsafe: int
    files: int
    bytes: int

    @staticmethod
    def of(day: Day, production: Production) -> "DayOut":
        number = production.number_of(day.day)
        return DayOut(day=day.day, number=number, rolls=day.rolls, unsafe=day.unsafe, files=day.files, bytes=day.bytes)


class TallyOut(BaseModel):
    """A page of rolls: those below the line first, then those short of the rule, then the rest; in each the newest day
    first.

    after: hand this in to get the next page; null on the last. in_all: how many rolls were asked for
    days: newest first, of everything that is asked for but for the day
    survives_devices, survives_locations: how many losses every roll of the production does; null without rolls
    """

    rule: str
    survives_devices: int | None
    survives_locations: int | None
    stores: list[StoreColumn]
    rolls: list[RollOut]
    after: str | None
    in_all: int
    days: list[DayOut]


class FaultOut(BaseModel):
    """What is wrong with one file of a copy, by the last evidence against it."""

    store: str
    path: str
    result: Result
    reason: str


class FileOut(BaseModel):
    """checksum: empty while the file was never read off the card. others: further ones, by algorithm

    kept_as: its name in the copies where that is not the card's own, else empty
    preview: an id for `/footage/ID/preview`, or 0
    body: the camera or recorder that wrote it. duration_s: seconds. Both as far as its header says
    """

    path: str
    size: int
    algorithm: str
    checksum: str
    others: dict[str, str]
    kept_as: str
    preview: int
    body: str
    duration_s: float | None

    @staticmethod
    def of(file: RollFile, algorithm: str, footage: FileFootage | None) -> "FileOut":
        return FileOut(
            path=file.path, size=file.size, algorithm=algorithm, checksum=file.checksum, others=file.others,
            kept_as=file.kept_as, preview=footage.preview if footage else 0,
            body=footage.facts.body if footage else "", duration_s=footage.facts.duration_s if footage else None,
        )  # fmt: skip


class FilesOut(BaseModel):
    """A page of a roll's files, in the order of their paths. after: hand this in to get the next; null on the last."""

    files: list[FileOut]
    after: str | None


class ReadingOut(BaseModel):
    """A reading of a copy, or a look that found something. at: when it began. wrong_files: that it found fault with.

    off_files: that were taken off to make room
    source: the store that the copy was brought from, where it was brought; empty otherwise
    """

    store: str
    at: datetime
    origin: Origin
    source: str
    level: Level
    agreed_files: int
    wrong_files: int
    off_files: int


class WorkOut(BaseModel):
    """A check of a copy, or bringing it what it lacks, that waits or is under way."""

    run_id: int
    kind: RunKind
    store: str
    state: RunState

    @staticmethod
    def of(run: CheckRun | Feed) -> "WorkOut":
        return WorkOut(run_id=run.pk, kind=run.KIND, store=run.copy.store.name, state=run.state)


class RollDetail(BaseModel):
    """readings: the last hundred, newest first.

    survives: how many devices, and how many locations, may be lost before the last counting copy is (-1: none).
    asked: what is asked of it, in words. clips, opened: how many there are, and how many of them somebody opened
    delivered_to: empty while it was not. double_of: the roll of which it is another rendering, or empty
    """

    roll: RollOut
    survives_devices: int
    survives_locations: int
    faults: list[FaultOut]
    readings: list[ReadingOut]
    waivers: list[WaiverOut]
    left_behind: list[str]
    asked: str
    clips: int
    opened: int
    delivered_to: str
    delivered_at: datetime | None
    double_of: str
    holds: list[HoldOut]
    under_way: list[WorkOut]
