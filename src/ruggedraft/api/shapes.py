"""Shapes that more than one place of the interface shows."""

from datetime import datetime

from ninja import Schema

from ruggedraft.clearing.roll_cases import RollCase
from ruggedraft.core.evidence import Level
from ruggedraft.core.redundancy import Block, BlockKind, CopyState, RollState, Rule, WaiverFact, copy_state
from ruggedraft.productions.models import Camera
from ruggedraft.rolls.readings import CopyStanding


class Problem(Schema):
    """RFC 9457. `title` is a sentence for the person at the screen."""

    type: str
    status: int
    title: str


class Done(Schema):
    """The act was done; what changed arrives through the live stream."""

    done: bool = True


class CameraOut(Schema):
    letter: str
    name: str
    kind: str

    @staticmethod
    def of(camera: Camera) -> "CameraOut":
        return CameraOut(letter=camera.letter, name=camera.name, kind=camera.kind)


class BlockOut(Schema):
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


class PlankOut(Schema):
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


class RollOut(Schema):
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


class WaiverOut(Schema):
    path: str
    reason: str
    by: str

    @staticmethod
    def of(waiver: WaiverFact) -> "WaiverOut":
        return WaiverOut(path=waiver.file.path, reason=waiver.reason, by=waiver.by)
