"""What a unit hands in, as lines of JSON (jsonlines.org: UTF-8, a value a line): the shape of each.

The first line is the head, the last one the end, which holds the SHA-256 of all before it and their HMAC-SHA256
(RFC 2104) under the unit's secret. Ids are the unit's own; moments are in UTC.
docs/unit.schema.json is made from these.
"""

from datetime import date, datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from ruggedraft.productions.acts.change_production import LATEST_HOUR

VERSION = 1


class _Line(BaseModel):
    model_config = ConfigDict(extra="forbid")


class HeadLine(_Line):
    kind: Literal["head"] = "head"
    format: Literal["rugged raft unit"] = "rugged raft unit"
    version: int
    production: UUID
    production_name: str
    unit: UUID
    unit_name: str
    at: datetime


class PersonLine(_Line):
    kind: Literal["person"] = "person"
    id: int
    username: str
    name: str


class CameraLine(_Line):
    kind: Literal["camera"] = "camera"
    id: int
    letter: str
    name: str
    is_a: str


class CardLine(_Line):
    """whereabouts: where it is or who has it, as the unit knows. with_us: nobody else has it."""

    kind: Literal["card"] = "card"
    id: int
    label: str
    is_a: str
    capacity: int
    camera: int
    serials: list[str]
    whereabouts: str
    with_us: bool


class DeviceLost(_Line):
    """A device was reported lost. found_after: the last evidence before it was found again; None while it is not."""

    id: int
    reason: str
    found_after: int | None


class StoreLine(_Line):
    """uuid: as its mark says. stands_on: identities of the physical devices beneath it."""

    kind: Literal["store"] = "store"
    id: int
    uuid: UUID
    name: str
    is_a: str
    device: str
    medium: str
    place: str
    offsite: bool
    stands_on: list[str]
    path: str
    inside: str
    volume: str
    file_system: str
    landing: bool
    system_disk_reason: str
    retired: bool
    losses: list[DeviceLost]


class RollLine(_Line):
    kind: Literal["roll"] = "roll"
    id: int
    camera: int
    card: int
    number: int
    tag: str
    shoot_day: date
    opened_at: datetime
    algorithm: str
    fs_serial: str
    double_of: int | None


class TakeLine(_Line):
    kind: Literal["take"] = "take"
    id: int
    roll: int
    person: int
    at: datetime


class FileLine(_Line):
    """A file of a roll; see `rolls.RollFile`."""

    kind: Literal["file"] = "file"
    id: int
    take: int
    path: str
    size: int
    modified_ns: int
    checksum: str
    fingerprint: str
    kept_as: str
    others: dict[str, str]
    is_clip: bool


class CopyLine(_Line):
    kind: Literal["copy"] = "copy"
    id: int
    roll: int
    store: int
    folder: str


class ReadingLine(_Line):
    """A reading; see `rolls.Reading`. results: of files (ids) of which it says something else."""

    kind: Literal["reading"] = "reading"
    id: int
    copy_: Annotated[int, Field(alias="copy")]
    origin: str
    began_at: datetime
    noted_at: datetime
    after: int
    level: int
    all_but: bool
    until: int
    agreed_files: int
    agreed_bytes: int
    results: list[tuple[int, str, str, int | None]]

    model_config = ConfigDict(extra="forbid", populate_by_name=True)


class HoldLine(_Line):
    """A hold that stands, on a roll."""

    kind: Literal["hold"] = "hold"
    id: int
    roll: int
    reason: str
    person: int
    at: datetime


class NoteLine(_Line):
    kind: Literal["note"] = "note"
    id: int
    roll: int
    words: str
    person: int
    at: datetime


class ClearedLine(_Line):
    """A clearance with everything it was decided on. files: base64, as packed. revoked: by whom and why."""

    kind: Literal["cleared"] = "cleared"
    id: int
    card: str
    rolls: list[int]
    at: datetime
    evidence: dict[str, Any]
    files: str
    revoked: str


class EntryLine(_Line):
    """A row of the journal, and what its seal is over (`journal.writing.seal_of`), but for rows of other productions:

    of those there is the seal alone. at: as the seal has it. person: id
    """

    kind: Literal["entry"] = "entry"
    id: int
    seal: str
    at: str | None = None
    person: int | None = None
    origin: str = ""
    production: int | None = None
    act: str = ""
    subject: str = ""
    sentence: str = ""
    detail: dict[str, Any] = {}


class EndLine(_Line):
    kind: Literal["end"] = "end"
    lines: int
    sha256: str
    hmac: str


Line = Annotated[
    HeadLine | PersonLine | CameraLine | CardLine | StoreLine | RollLine | TakeLine | FileLine | CopyLine
    | ReadingLine | HoldLine | NoteLine | ClearedLine | EntryLine | EndLine,
    Field(discriminator="kind"),
]  # fmt: skip
LINE: TypeAdapter[Line] = TypeAdapter(Line)


class SetUpCamera(_Line):
    letter: str
    name: str
    is_a: str
    plan: dict[str, Any]


class SetUpCard(_Line):
    label: str
    is_a: str
    capacity: int
    camera: str
    serials: list[str]


class UnitSetUp(_Line):
    """What a unit begins its ledger with. numbers: by camera's letter, first and last roll number that are its own."""

    format: Literal["rugged raft unit set-up"] = "rugged raft unit set-up"
    version: int
    production: UUID
    name: str
    time_zone: str
    first_day: date
    day_starts_at: int = Field(ge=0, le=LATEST_HOUR)
    rule: dict[str, Any]
    cameras: list[SetUpCamera]
    cards: list[SetUpCard]
    unit: UUID
    unit_name: str
    secret: str = Field(pattern="^[0-9a-f]{64}$")
    numbers: dict[str, tuple[int, int]]
