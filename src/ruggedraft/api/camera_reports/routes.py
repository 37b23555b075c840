"""Camera reports: taken in as CSV, and held against the rolls."""

import base64
import binascii
from collections.abc import Mapping, Sequence
from datetime import datetime

from django.http import HttpRequest
from ninja import Path, Router
from pydantic import BaseModel

from ruggedraft.camera_reports.acts.take_in_report import take_in_report, withdraw_report
from ruggedraft.camera_reports.queries import HeldAgainst, RollReport, propose_columns, report_on, reports_of
from ruggedraft.core.camera_reports import ColumnUse, Mismatch, MismatchKind
from ruggedraft.core.errors import TableRefused
from ruggedraft.live.snapshot import one_moment
from ruggedraft.productions.queries import production_named
from ruggedraft.rolls.queries import roll_named

from ..shapes import REFUSED, Done
from ..who import who

router = Router(tags=["camera reports"])
_SHOWN = 5


class MismatchOut(BaseModel):
    """line: of the report; 0 where it is about none. roll: a tag, or what the report calls it"""

    kind: MismatchKind
    line: int
    roll: str
    sentence: str

    @classmethod
    def of(cls, one: Mismatch) -> "MismatchOut":
        return cls(kind=one.kind, line=one.line, roll=one.roll, sentence=one.sentence)


class ReportOut(BaseModel):
    """rolls: tags of those that are held against it. lines: how many of it count; fit: how many of them fit a clip"""

    id: int
    name: str
    by: str
    at: datetime
    rolls: list[str]
    lines: int
    fit: int
    mismatches: list[MismatchOut]

    @classmethod
    def of(cls, held: HeldAgainst) -> "ReportOut":
        report = held.report
        return cls(
            id=report.pk, name=report.name, by=report.by.shown_name, at=report.at,
            rolls=list(dict.fromkeys(held.found.rolls.values())), lines=len(held.lines), fit=len(held.found.clips),
            mismatches=[MismatchOut.of(one) for one in held.found.mismatches],
        )  # fmt: skip


class ReportedOut(BaseModel):
    """A line as it says it. path: of the clip's main file; empty where none fits"""

    line: int
    clip: str
    scene: str
    take: str
    remark: str
    path: str


class RollReportOut(BaseModel):
    name: str
    by: str
    at: datetime
    lines: list[ReportedOut]
    mismatches: list[MismatchOut]

    @classmethod
    def of(cls, found: RollReport) -> "RollReportOut":
        lines = [
            ReportedOut(line=one.line, clip=one.clip, scene=one.scene, take=one.take, remark=one.remark, path=path)
            for one, path in found.lines
        ]
        return cls(
            name=found.report.name, by=found.report.by.shown_name, at=found.report.at, lines=lines,
            mismatches=[MismatchOut.of(one) for one in found.mismatches],
        )  # fmt: skip


class FileIn(BaseModel):
    """content: its bytes in base64, at most 1 MB of them."""

    content: str

    def data(self) -> bytes:
        """Raises TableRefused."""
        try:
            return base64.b64decode(self.content, validate=True)
        except binascii.Error as error:
            raise TableRefused("The file did not arrive whole: hand it in again. Nothing was changed.") from error


class ReportIn(FileIn):
    """name: of the file. columns: by what they say, the names of the columns"""

    name: str
    columns: dict[ColumnUse, list[str]]


class ReportLookOut(BaseModel):
    """head: names of the columns. first: the first lines. columns: which of them say what, as far as can be told"""

    head: list[str]
    first: list[list[str]]
    rows: int
    columns: Mapping[ColumnUse, Sequence[str]]


@router.get("", response=list[ReportOut])
@one_moment()
def reports(request: HttpRequest, production: Path[str]) -> list[ReportOut]:
    """Those that count, newest first."""
    return [ReportOut.of(held) for held in reports_of(production_named(production))]


@router.get("/rolls/{tag}", response={200: RollReportOut | None, **REFUSED})
@one_moment()
def of_roll(request: HttpRequest, production: Path[str], tag: str) -> RollReportOut | None:
    """What the newest report that names the roll says of it; null where none does."""
    here = production_named(production)
    found = report_on(here, roll_named(here, tag).tag)
    return RollReportOut.of(found) if found else None


@router.post("/look", response={200: ReportLookOut, **REFUSED})
def look(request: HttpRequest, production: Path[str], given: FileIn) -> ReportLookOut:
    """How a file would be read; nothing is kept."""
    found = propose_columns(production_named(production), given.data())
    return ReportLookOut(
        head=list(found.table.head), first=[list(row.cells) for row in found.table.rows[:_SHOWN]],
        rows=len(found.table.rows), columns=found.columns,
    )  # fmt: skip


@router.post("", response={200: Done, **REFUSED})
def take_in(request: HttpRequest, production: Path[str], given: ReportIn) -> Done:
    take_in_report(who(request), production_named(production), given.name, given.data(), given.columns)
    return Done()


@router.delete("/{report_id}", response={200: Done, **REFUSED})
def withdraw(request: HttpRequest, production: Path[str], report_id: int) -> Done:
    withdraw_report(who(request), production_named(production), report_id)
    return Done()
