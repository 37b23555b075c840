"""Rolls and their copies, as Tally and a roll's page show them."""

from datetime import datetime

from pydantic import BaseModel

from ruggedraft.checks.models import CheckRun
from ruggedraft.clearing.roll_cases import RollCase
from ruggedraft.core.evidence import Level, Result
from ruggedraft.core.redundancy import Block, BlockKind, CopyState, RollState, Rule, WaiverFact, copy_state
from ruggedraft.core.runs import RunState
from ruggedraft.rolls.footage import FileFootage
from ruggedraft.rolls.models import Origin, RollFile
from ruggedraft.rolls.readings import CopyStanding

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
    """

    copy_id: int
    store: str
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
        )


class RollOut(BaseModel):
    """files, bytes: what a whole copy must hold. unread: of those, never read off the card.

    waived: files that were said to need no copy. left: files that stayed on the card on purpose
    """

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

    @staticmethod
    def of(case: RollCase, rule: Rule, moment: datetime) -> "RollOut":
        roll, facts = case.standing.roll, case.standing.facts
        return RollOut(
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
        )


class WaiverOut(BaseModel):
    path: str
    reason: str
    by: str

    @staticmethod
    def of(waiver: WaiverFact) -> "WaiverOut":
        return WaiverOut(path=waiver.file.path, reason=waiver.reason, by=waiver.by)


class TallyOut(BaseModel):
    """A page of rolls: those below the line first, then those short of the rule, then the rest; in each newest first.

    after: hand this in to get the next page; null on the last. in_all: how many rolls were asked for
    """

    rule: str
    stores: list[StoreColumn]
    rolls: list[RollOut]
    after: str | None
    in_all: int


class FaultOut(BaseModel):
    """What is wrong with one file of a copy, by the last evidence against it."""

    store: str
    path: str
    result: Result
    reason: str


class FileOut(BaseModel):
    """checksum: empty while the file was never read off the card. preview: an id for `/footage/ID/preview`, or 0

    body: the camera or recorder that wrote it. duration_s: seconds. Both as far as its header says
    """

    path: str
    size: int
    algorithm: str
    checksum: str
    preview: int
    body: str
    duration_s: float | None

    @staticmethod
    def of(file: RollFile, algorithm: str, footage: FileFootage | None) -> "FileOut":
        return FileOut(
            path=file.path, size=file.size, algorithm=algorithm, checksum=file.checksum,
            preview=footage.preview if footage else 0, body=footage.facts.body if footage else "",
            duration_s=footage.facts.duration_s if footage else None,
        )  # fmt: skip


class FilesOut(BaseModel):
    """A page of a roll's files, in the order of their paths. after: hand this in to get the next; null on the last."""

    files: list[FileOut]
    after: str | None


class ReadingOut(BaseModel):
    """A reading of a copy, or a look that found something. at: when it began. wrong_files: that it found fault with."""

    store: str
    at: datetime
    origin: Origin
    level: Level
    agreed_files: int
    wrong_files: int


class CheckingOut(BaseModel):
    """A check that waits or is under way."""

    run_id: int
    store: str
    state: RunState

    @staticmethod
    def of(check: CheckRun) -> "CheckingOut":
        return CheckingOut(run_id=check.pk, store=check.copy.store.name, state=check.state)


class RollDetail(BaseModel):
    """readings: the last hundred, newest first.

    survives: how many devices, and how many locations, may be lost before the last counting copy is (-1: none)."""

    roll: RollOut
    survives_devices: int
    survives_locations: int
    remedy: list[str]
    faults: list[FaultOut]
    readings: list[ReadingOut]
    waivers: list[WaiverOut]
    left_behind: list[str]
    checking: list[CheckingOut]
