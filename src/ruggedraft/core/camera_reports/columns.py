"""Which column of a report says what. Said once for a production, and used again as long as the names are the same."""

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from ..errors import TableRefused
from ..tables import Table


class ColumnUse(StrEnum):
    """What a column is about."""

    ROLL = "roll"
    CLIP = "clip"
    SCENE = "scene"
    TAKE = "take"
    REMARK = "remark"


Columns = Mapping[ColumnUse, Sequence[str]]
"""The names of the columns of each use. One has a roll and a clip; several may be remarks."""

_NAMED: Sequence[tuple[ColumnUse, str]] = (
    (ColumnUse.ROLL, r"roll|reel|mag(azine)?|card"),
    (ColumnUse.CLIP, r"clip|file( ?name)?|shot"),
    (ColumnUse.SCENE, r"scene|slate|sc"),
    (ColumnUse.TAKE, r"take|tk"),
    (ColumnUse.REMARK, r"notes?|remarks?|comments?"),
)
"""What such columns are called; common practice, no source."""


@dataclass(frozen=True)
class ReportLine:
    """What a line says, as it says it. line: of the file"""

    line: int
    roll: str
    clip: str
    scene: str = ""
    take: str = ""
    remark: str = ""


def proposed_columns(head: Sequence[str], known: Columns) -> dict[ColumnUse, list[str]]:
    """As was said before, where those columns are there; otherwise by their names."""
    if known and all(name in head for names in known.values() for name in names):
        return {use: list(names) for use, names in known.items()}
    found: dict[ColumnUse, list[str]] = {}
    for use, called in _NAMED:
        names = [name for name in head if re.search(rf"\b({called})\b", name.casefold())]
        free = [name for name in names if not any(name in taken for taken in found.values())]
        if free:
            found[use] = free if use is ColumnUse.REMARK else free[:1]
    return found


def lines_of(table: Table, columns: Columns) -> Iterator[ReportLine]:
    """Each line that names a roll or a clip. A cell of a roll that is empty means the roll of the line before.

    Raises TableRefused for columns that are not there, or where none says the roll or the clip.
    """
    place = {name: at for at, name in enumerate(table.head)}
    for use in (ColumnUse.ROLL, ColumnUse.CLIP):
        if len(columns.get(use, ())) != 1:
            raise TableRefused(f"Say which column names the {use}: without it no line can be matched.")
    missing = [name for names in columns.values() for name in names if name not in place]
    if missing:
        raise TableRefused(f"There is no column '{missing[0]}' in this report: it has {', '.join(table.head[:12])}.")
    at = {use: [place[name] for name in columns.get(use, ())] for use in ColumnUse}
    roll = ""
    for row in table.rows:
        said = {use: "; ".join(row.cells[n] for n in at[use] if row.cells[n]) for use in ColumnUse}
        roll = said[ColumnUse.ROLL] or roll
        if said[ColumnUse.ROLL] or said[ColumnUse.CLIP]:
            yield ReportLine(
                row.line, roll, said[ColumnUse.CLIP], said[ColumnUse.SCENE], said[ColumnUse.TAKE],
                said[ColumnUse.REMARK],
            )  # fmt: skip
