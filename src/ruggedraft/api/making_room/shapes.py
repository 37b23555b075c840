"""What could be taken off a store to make room there, and what was."""

from datetime import datetime

from pydantic import BaseModel, Field

from ruggedraft.core.making_room import Held, Stays
from ruggedraft.core.runs import RunState
from ruggedraft.making_room.models import MakingRoom
from ruggedraft.making_room.queries import RoomOn


class RoomSoughtIn(BaseModel):
    """store: its name. months: only rolls that were delivered so long ago. with_kept: also what somebody keeps"""

    store: str
    months: int = Field(6, ge=0, le=240)
    with_kept: bool = False


class RoomRollOut(BaseModel):
    """files, bytes: what would go of it. kept: so many clips stay. reason: why nothing goes, as a clause; else empty"""

    tag: str
    delivered_at: datetime | None
    files: int
    bytes: int
    kept: int
    reason: str

    @classmethod
    def of(cls, one: Held, reason: str = "") -> "RoomRollOut":
        return cls(
            tag=one.tag, delivered_at=one.delivered_at, files=one.files, bytes=one.bytes, kept=one.kept, reason=reason
        )

    @classmethod
    def staying(cls, one: Stays) -> "RoomRollOut":
        return cls.of(one.held, one.reason)


class RoomRunOut(BaseModel):
    """What made room. roll: its id. outcome: what came of it, empty while it is open

    off: some of it is off the store, and may be brought back
    """

    run: int
    roll: int
    tag: str
    by: str
    asked_at: datetime
    state: RunState
    outcome: str
    off: bool

    @classmethod
    def of(cls, one: MakingRoom) -> "RoomRunOut":
        return cls(
            run=one.pk, roll=one.roll_id, tag=one.roll.tag, by=one.person.shown_name, asked_at=one.asked_at,
            state=one.state, outcome=one.outcome, off=one.finished_at is not None and one.copy.thinned_at is not None,
        )  # fmt: skip


class RoomOnOut(BaseModel):
    """going: most bytes first. bytes: of all of them. more: others were delivered before that day too

    undelivered: so many rolls lie there that nobody said were delivered. runs: newest first
    """

    going: list[RoomRollOut]
    staying: list[RoomRollOut]
    bytes: int
    more: bool
    undelivered: int
    runs: list[RoomRunOut]

    @classmethod
    def of(cls, one: RoomOn, runs: list[MakingRoom]) -> "RoomOnOut":
        return cls(
            going=[RoomRollOut.of(held) for held in one.found.going],
            staying=[RoomRollOut.staying(stays) for stays in one.found.staying],
            bytes=one.found.bytes, more=one.more, undelivered=one.undelivered,
            runs=[RoomRunOut.of(run) for run in runs],
        )  # fmt: skip


class RoomShownIn(BaseModel):
    """A roll, and what was shown of it."""

    tag: str
    files: int
    bytes: int


class MakeRoomIn(RoomSoughtIn):
    rolls: list[RoomShownIn] = Field(max_length=100)
