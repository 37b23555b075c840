"""Machines with readers and drives, and how one more joins."""

from datetime import UTC, datetime
from pathlib import Path

from pydantic import BaseModel

from ruggedraft.kit.acts.join_station import Entry
from ruggedraft.kit.models import Station


class StationOut(BaseModel):
    """running: its worker is there now. seen_at: when it last looked at its readers. joined: from another machine

    clock_off_s: seconds by which its clock was ahead of the ledger's when it began, below 0 behind
    """

    name: str
    running: bool
    seen_at: datetime | None
    joined: bool
    joined_from: str
    turned_away: bool
    clock_off_s: float

    @classmethod
    def of(cls, station: Station, running: frozenset[int]) -> "StationOut":
        """running: ids of those that are"""
        return cls(
            name=station.name, running=station.pk in running,
            seen_at=station.seen_at and station.seen_at.astimezone(UTC), joined=bool(station.role),
            joined_from=station.joined_from, turned_away=station.turned_away_at is not None,
            clock_off_s=station.clock_off_s,
        )  # fmt: skip


class TicketOut(BaseModel):
    """ticket: told once. minutes: how long it works"""

    ticket: str
    minutes: int


class JoinIn(BaseModel):
    ticket: str
    name: str


class EntryOut(BaseModel):
    """How the station reaches the database, at the machine it joined: as this role, over TLS, with this certificate."""

    port: int
    database: str
    role: str
    password: str
    certificate: str

    @classmethod
    def of(cls, entry: Entry, database: str, door: str) -> "EntryOut":
        """door: as the settings tell it"""
        port, _, file = door.partition(" ")
        certificate = Path(file).read_text()
        return cls(port=int(port), database=database, role=entry.role, password=entry.password, certificate=certificate)
