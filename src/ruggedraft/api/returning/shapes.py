"""Folders that people work in, and what is brought back to them."""

from datetime import date, datetime
from typing import Any

from pydantic import BaseModel

from ruggedraft.core.runs import RunState
from ruggedraft.core.working import Codec
from ruggedraft.returning.models import FolderLook, FolderRow, MakingOfCopies, Return, RowKind, TakeAway
from ruggedraft.returning.queries import Since


class ProjectListOut(BaseModel):
    """Paths of files as a project names them, each once."""

    paths: list[str]


class FolderLookIn(BaseModel):
    """folder: its whole path on the station's machine. by_content: read everything; else names and sizes are compared

    paths: of `lists`, from a list of this name; none: the rolls that seem to lie in the folder are looked for
    """

    station: str
    folder: str
    by_content: bool = False
    list_name: str = ""
    paths: list[str] = []


class FolderLookOut(BaseModel):
    """going: it is under way. stopping: somebody wants it to end. trouble: why nothing was found out

    read: bytes so far. expected: how many files belong there; same: of them, those that are there as they were; by
    content, or by name and size alone. cached: files that may have come from the machine's memory: of those nothing is
    known
    """

    id: int
    station: str
    folder: str
    by_content: bool
    list_name: str
    by: str
    asked_at: datetime
    finished_at: datetime | None
    going: bool
    stopping: bool
    trouble: str
    read: int
    expected: int
    same: int
    cached: int

    @classmethod
    def of(cls, look: FolderLook) -> "FolderLookOut":
        return cls(
            id=look.pk, station=look.station.name, folder=look.folder, by_content=look.by_content,
            list_name=look.list_name, by=look.person.shown_name, asked_at=look.asked_at, finished_at=look.finished_at,
            going=look.finished_at is None, stopping=look.finished_at is None and look.stopped_by is not None,
            trouble=look.trouble, read=look.read, expected=look.expected, same=look.same, cached=look.cached,
        )  # fmt: skip


class FolderRowOut(BaseModel):
    """A file that is not as it was. path: where it belongs in the folder; of an unknown one, as the project says

    of a renamed one, where it stands; its reason is what its roll calls it

    tag: of its roll, empty of an unknown one. elsewhere: where it stands now. size: bytes it has to have
    back_at: since when it is back, as it was then; null where it was not brought. coming: it is being brought
    """

    n: int
    kind: RowKind
    path: str
    tag: str
    size: int
    elsewhere: str
    reason: str
    back_at: datetime | None
    coming: bool

    @classmethod
    def of(cls, row: FolderRow, happened: Since) -> "FolderRowOut":
        return cls(
            n=row.n, kind=RowKind(row.kind), path=row.path, tag=row.file.roll.tag if row.file else "", size=row.size,
            elsewhere=row.elsewhere, reason=row.reason,
            back_at=happened.back.get(row.file_id or 0), coming=row.file_id in happened.coming,
        )  # fmt: skip


class FolderLookDetail(BaseModel):
    """missing_still: so many were missing, and are neither back nor being brought. unknown: names of the list that
    nobody can tell

    after: hand this in to get the next rows; null on the last page
    """

    look: FolderLookOut
    rows: list[FolderRowOut]
    missing_still: int
    unknown: int
    after: int | None


class BringBackIn(BaseModel):
    """rows: their numbers; none: everything that is missing. aside: what stands in a file's place goes aside first"""

    rows: list[int] = []
    aside: bool = False
    system_disk_reason: str = ""


class RestoreIn(BaseModel):
    """Rolls by their tags, or those of a day, to a folder of a station's machine; each into a folder of its tag.

    clip: of one roll, the path of a file: only the clip that it is of. bag: each folder is to be one (RFC 8493)
    """

    station: str
    folder: str
    tags: list[str] = []
    day: date | None = None
    clip: str = ""
    system_disk_reason: str = ""
    bag: bool = False


class FolderRunOut(BaseModel):
    """What brings or makes something in a folder. run: its id. outcome: what came of it, empty while it is open"""

    run: int
    tag: str
    station: str
    folder: str
    by: str
    asked_at: datetime
    state: RunState
    outcome: str

    @staticmethod
    def said(one: Return | MakingOfCopies | TakeAway) -> dict[str, Any]:
        """Of each of them alike."""
        return {
            "run": one.pk, "tag": one.roll.tag, "station": one.station.name, "folder": one.folder,
            "by": one.person.shown_name, "asked_at": one.asked_at, "state": one.state, "outcome": one.outcome,
        }  # fmt: skip


class ReturnOut(FolderRunOut):
    """files: how many it is to bring"""

    files: int

    @classmethod
    def of(cls, one: Return) -> "ReturnOut":
        return cls(**cls.said(one), files=len(one.files))


class MakeIn(BaseModel):
    """Working copies of rolls, by their tags or those of a day, in a folder of a station's machine.

    height: of pictures in lines: 540, 720 or 1080; 0 as recorded. burn_in: name and timecode stand in the picture
    """

    station: str
    folder: str
    tags: list[str] = []
    day: date | None = None
    codec: Codec
    height: int = 0
    burn_in: bool = False


class MakingOut(FolderRunOut):
    """files: of how many recordings. The rest as in `MakeIn`"""

    codec: Codec
    height: int
    burn_in: bool
    files: int

    @classmethod
    def of(cls, one: MakingOfCopies) -> "MakingOut":
        how = one.recipe
        return cls(**cls.said(one), codec=how.codec, height=how.height, burn_in=how.burn_in, files=len(one.files))


class TakeAwayIn(BaseModel):
    """What is seen of rolls, by their tags or those of a day, to a folder of the server's machine.

    words: with marks and notes
    """

    station: str
    folder: str
    tags: list[str] = []
    day: date | None = None
    words: bool = True


class TakeAwayOut(FolderRunOut):
    """name: of the folder that is made for it"""

    name: str

    @classmethod
    def of(cls, one: TakeAway) -> "TakeAwayOut":
        return cls(**cls.said(one), name=one.name)


class ReturnsOut(BaseModel):
    """Newest first."""

    looks: list[FolderLookOut]
    returns: list[ReturnOut]
    making: list[MakingOut]
    take_aways: list[TakeAwayOut]
