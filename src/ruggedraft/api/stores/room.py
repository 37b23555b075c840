"""What stores hold and how long their room lasts, as Stores and Tally show it."""

from datetime import date

from pydantic import BaseModel

from ruggedraft.core.foresight import Foreseen, PartOfDay
from ruggedraft.rolls.room import StoreRoom


class HeldOut(BaseModel):
    """What was shot on a day with a camera, and is there."""

    day: date
    camera: str
    bytes: int
    rolls: int


class ForeseenOut(BaseModel):
    """When it will be full, if the production goes on as it did: in 8 of 10 cases between `earliest` and `latest`.

    expected, part: most likely, and about when on that day; None: later than can be told
    days_least, days_most: of shooting, for which there is room. rolls_least, rolls_most: the same in rolls
    in_days: how many days from today `expected` is, None as there. soon: it may be full within three days
    """

    earliest: date
    expected: date | None
    latest: date | None
    part: PartOfDay
    days_least: float
    days_most: float
    rolls_least: int
    rolls_most: int
    in_days: int | None
    soon: bool

    @classmethod
    def of(cls, found: Foreseen, today: date) -> "ForeseenOut":
        return cls(
            earliest=found.earliest, expected=found.expected, latest=found.latest, part=found.part,
            days_least=round(found.days[0], 1), days_most=round(found.days[1], 1),
            rolls_least=found.rolls[0], rolls_most=found.rolls[1],
            in_days=(found.expected - today).days if found.expected else None,
            soon=(found.earliest - today).days <= _SOON_DAYS,
        )  # fmt: skip


_SOON_DAYS = 3


class RoomOut(BaseModel):
    store: str
    held: list[HeldOut]
    foreseen: ForeseenOut | None

    @classmethod
    def of(cls, one: StoreRoom, today: date) -> "RoomOut":
        held = [HeldOut(day=of.day, camera=of.camera, bytes=of.bytes, rolls=of.rolls) for of in one.held]
        found = ForeseenOut.of(one.foreseen, today) if one.foreseen else None
        return cls(store=one.store.name, held=held, foreseen=found)
