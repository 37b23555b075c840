"""What a loss would do, as Stores shows it."""

from pydantic import BaseModel

from ruggedraft.clearing.what_if import RollAfter, WhatIf
from ruggedraft.core.redundancy import Loss

from ..rolls.shapes import StepOut


class RollAfterOut(BaseModel):
    """A roll that the loss would hurt. gone: no copy that counts would be left; else it falls below its rule.

    remedy: what, done now, would make it safe whatever happens; empty where no store has room for it
    """

    tag: str
    card: str
    gone: bool
    bytes: int
    remedy: list[StepOut]

    @classmethod
    def of(cls, one: RollAfter) -> "RollAfterOut":
        standing = one.standing
        return cls(
            tag=standing.roll.tag, card=standing.roll.card.label, gone=one.loss is Loss.GONE,
            bytes=standing.facts.bytes, remedy=StepOut.all_of(one.remedy),
        )  # fmt: skip


class WhatIfOut(BaseModel):
    """stores: that would be lost. gone, below: how many rolls. bytes_to_copy: of those below, once each

    rolls: the first of them, those that would be gone before others. room: bytes free on each store that would be left
    """

    stores: list[str]
    gone: int
    below: int
    bytes_to_copy: int
    rolls: list[RollAfterOut]
    room: dict[str, int]

    @classmethod
    def of(cls, found: WhatIf) -> "WhatIfOut":
        return cls(
            stores=list(found.stores), gone=found.gone, below=found.below, bytes_to_copy=found.bytes_to_copy,
            rolls=[RollAfterOut.of(one) for one in found.rolls], room=dict(found.room),
        )  # fmt: skip
