"""Which column of a report says what. Said once for a production, and used again as long as the names are the same."""

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import chain

from ..errors import TableRefused
from ..tables import Row, Table


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
    if known and set(chain(*known.values())) <= set(head):
        return {use: list(names) for use, names in known.items()}
    return _by_their_names(head)


def _by_their_names(head: Sequence[str]) -> dict[ColumnUse, list[str]]:
    free, found = list(head), dict[ColumnUse, list[str]]()
    for use, called in _NAMED:
        names = [name for name in free if re.search(rf"\b({called})\b", name.casefold())]
        found[use] = names if use is ColumnUse.REMARK else names[:1]
        free = [name for name in free if name not in found[use]]
    return {use: names for use, names in found.items() if names}


def lines_of(table: Table, columns: Columns) -> Iterator[ReportLine]:
    """Each line that names a roll or a clip. A cell of a roll that is empty means the roll of the line before.

    Raises TableRefused for columns that are not there, or where none says the roll or the clip.
    """
    at = _places_of(table, columns)
    roll = ""
    for row in table.rows:
        said = {use: _said(row, at[use]) for use in ColumnUse}
        roll = said[ColumnUse.ROLL] or roll
        if said[ColumnUse.ROLL] or said[ColumnUse.CLIP]:
            yield ReportLine(row.line, **{**{use.value: words for use, words in said.items()}, "roll": roll})


def _said(row: Row, places: Sequence[int]) -> str:
    return "; ".join(row.cells[place] for place in places if row.cells[place])


def _places_of(table: Table, columns: Columns) -> dict[ColumnUse, list[int]]:
    """Where the columns of each use stand. Raises TableRefused."""
    for use in (ColumnUse.ROLL, ColumnUse.CLIP):
        if len(columns.get(use, ())) != 1:
            raise TableRefused(f"Say which column names the {use}: without it no line can be matched.")
    missing = next((name for name in chain(*columns.values()) if name not in table.head), None)
    if missing is not None:
        raise TableRefused(f"There is no column '{missing}' in this report: it has {', '.join(table.head[:12])}.")
    return {use: [table.head.index(name) for name in columns.get(use, ())] for use in ColumnUse}
