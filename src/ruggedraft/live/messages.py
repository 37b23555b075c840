"""What travels to every open screen. The web's types are made from these."""

from collections.abc import Sequence
from enum import StrEnum
from typing import Annotated, Literal

from pydantic import BaseModel, Field


class Topic(StrEnum):
    """What a screen may show that has changed."""

    READERS = "readers"
    CARDS = "cards"
    MEDIA = "media"
    """what headers and comparisons say of files on cards in readers"""
    SETUP = "setup"
    ROLLS = "rolls"
    STORES = "stores"
    LOOKS = "looks"
    """a copy was looked at, and nothing was wrong with it"""
    COMPARING = "comparing"
    """two stores are being compared, or were: nothing else is another than it was"""
    NOTES = "notes"
    PICTURES = "pictures"
    """there are pictures of recordings that there were not before"""
    MARKS = "marks"
    """somebody said something of a clip, or that it holds no more"""
    SHIFTS = "shifts"
    NEWS = "news"
    DELIVERIES = "deliveries"
    SETS = "sets"
    """something was made ready for somebody, fetched or received"""
    ACCOUNTS = "accounts"
    """an account was made, or put on paper"""
    PRESENCE = "presence"
    """somebody opened a page, or left"""
    SESSION = "session"
    """somebody signed out somewhere"""


class Changed(BaseModel):
    """What is shown under this topic may be out of date.

    names: tags of the rolls, or labels of the cards, that it is about; empty: it may be about any
    production: id of the one that it is about, and that alone hears of it; None: it may be about any
    """

    kind: Literal["changed"] = "changed"
    topic: Topic
    names: Sequence[str] = ()
    production: int | None = None


class StoreProgress(BaseModel):
    """written, verified: bytes. rate: bytes a second that the store holds more and has read back, of late."""

    name: str
    written: int
    verified: int
    trouble: str
    rate: int


class Progress(BaseModel):
    """A run under way, in bytes. run: its id. left_s: seconds to the end, null before that can be told.

    held_by: what sets the pace: "the reader" or a store's name
    production: id of the one that it is for, and that alone hears of it
    """

    kind: Literal["progress"] = "progress"
    run: int
    production: int
    total: int
    read: int
    read_again: int
    stores: Sequence[StoreProgress]
    rate: int
    left_s: float | None
    held_by: str


class Resync(BaseModel):
    """Sent first, and after any gap: whatever the screen shows may be out of date."""

    kind: Literal["resync"] = "resync"


class LiveMessage(BaseModel):
    """One event of the stream `GET /api/live` (text/event-stream): its data is `message` alone, as JSON."""

    message: Annotated[Changed | Progress | Resync, Field(discriminator="kind")]
