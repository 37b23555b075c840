"""Shapes that more than one place of the interface shows."""

from datetime import datetime

from ninja import Schema

from ruggedraft.clearing.waterline import RollCase
from ruggedraft.core.redundancy import Block, CopyFacts, RollVerdict, Rule
from ruggedraft.productions.models import Camera
from ruggedraft.rolls.queries import CopyStanding


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
    kind: str
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

    state: wanted, verified, stale (too old), weak (whole, but does not count for another reason), broken, lost
    same_device: another copy of the roll is on this device, so that this one does not count twice
    """

    copy_id: int
    store: str
    state: str
    level: str
    verified_at: datetime | None
    missing_files: int
    counts: bool
    same_device: bool

    @staticmethod
    def all_of(copies: tuple[CopyStanding, ...], verdict: RollVerdict, rule: Rule) -> list["PlankOut"]:
        counting = {facts.store.name for facts in verdict.counting}
        planks, devices = [], set()
        for standing in copies:
            facts = standing.facts
            planks.append(
                PlankOut(
                    copy_id=standing.copy.pk,
                    store=facts.store.name,
                    state=plank_state(facts, facts.store.name in counting, rule),
                    level=facts.level.words,
                    verified_at=facts.verified_at,
                    missing_files=facts.missing_files,
                    counts=facts.store.name in counting,
                    same_device=facts.store.device in devices,
                )
            )
            devices.add(facts.store.device)
        return planks


def plank_state(facts: CopyFacts, counts: bool, rule: Rule) -> str:
    """Which mark a copy gets. Solid, 'verified', only for a copy that counts."""
    if facts.store.lost:
        return "lost"
    if facts.verified_at is None:
        return "wanted"
    if facts.missing_files:
        return "broken"
    if counts:
        return "verified"
    proven = facts.store.counts and facts.level >= rule.level
    return "stale" if proven else "weak"


class RollOut(Schema):
    tag: str
    camera: CameraOut
    card: str
    shoot_day: str
    files: int
    bytes: int
    met: bool
    cleared: bool
    below: bool
    needed_copies: int
    blocks: list[BlockOut]
    planks: list[PlankOut]

    @staticmethod
    def of(case: RollCase, rule: Rule) -> "RollOut":
        roll = case.standing.roll
        return RollOut(
            tag=roll.tag,
            camera=CameraOut.of(roll.camera),
            card=roll.card.label,
            shoot_day=roll.shoot_day.isoformat(),
            files=case.standing.file_count,
            bytes=case.standing.facts.bytes,
            met=case.met,
            cleared=case.cleared,
            below=case.below,
            needed_copies=rule.copies,
            blocks=[BlockOut.of(block) for block in case.blocks],
            planks=PlankOut.all_of(case.standing.copies, case.verdict, rule),
        )
