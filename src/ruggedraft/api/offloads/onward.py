"""Bringing rolls onward, as Stores shows it."""

from pydantic import BaseModel

from ruggedraft.core.onward import Onward
from ruggedraft.offloads.onward import OnwardOf


class OnwardIn(BaseModel):
    """store: where to. which: the day or the store, where `of` asks for one"""

    of: OnwardOf
    which: str = ""
    store: str


class GoingOut(BaseModel):
    """bytes, files: that the store lacks of it. source: the store it is to come from"""

    tag: str
    bytes: int
    files: int
    source: str


class StayingOut(BaseModel):
    tag: str
    reason: str


class OnwardOut(BaseModel):
    """bytes: to be written in all"""

    going: list[GoingOut]
    staying: list[StayingOut]
    bytes: int

    @classmethod
    def of(cls, found: Onward) -> "OnwardOut":
        return cls(
            going=[GoingOut(**one._asdict()) for one in found.going],
            staying=[StayingOut(**one._asdict()) for one in found.staying], bytes=found.bytes,
        )  # fmt: skip
