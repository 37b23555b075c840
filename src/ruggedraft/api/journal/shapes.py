"""The journal as the Log shows it."""

from datetime import datetime

from pydantic import BaseModel


class LogEntry(BaseModel):
    id: int
    at: datetime
    person: str | None
    origin: str
    act: str
    subject: str
    sentence: str


class LogOut(BaseModel):
    """Newest first. `before`: hand this in to get the next page; None on the last."""

    entries: list[LogEntry]
    before: int | None


class SealOut(BaseModel):
    """broken_at: the first entry that was tampered with, None if the whole journal is as it was written."""

    broken_at: int | None
