from collections.abc import Iterator
from dataclasses import dataclass

from ruggedraft.core.errors import ActRefused

_SLACK_MM = 0.05
"""Lengths in millimetres are written with one or two places; so much is forgiven."""


@dataclass(frozen=True)
class LabelSheet:
    """A sheet of labels, in millimetres. left, top: of the first label. step_x, step_y: from one label to the next

    page: as CSS calls its size (CSS Paged Media Module Level 3, 'Page size')
    """

    name: str
    page: str
    page_width: float
    page_height: float
    columns: int
    rows: int
    width: float
    height: float
    left: float
    top: float
    step_x: float
    step_y: float

    @property
    def count(self) -> int:
        """Labels on one sheet."""
        return self.columns * self.rows

    @property
    def fits(self) -> bool:
        """No label lies over another, or over the edge of the page."""
        right = self.left + (self.columns - 1) * self.step_x + self.width
        bottom = self.top + (self.rows - 1) * self.step_y + self.height
        apart = self.step_x >= self.width - _SLACK_MM and self.step_y >= self.height - _SLACK_MM
        return apart and right <= self.page_width + _SLACK_MM and bottom <= self.page_height + _SLACK_MM


SHEETS = (
    LabelSheet("A4, 21 labels of 63.5 x 38.1 mm", "A4", 210, 297, 3, 7, 63.5, 38.1, 7.2, 15.1, 66.0, 38.1),
    LabelSheet("A4, 24 labels of 70 x 37 mm", "A4", 210, 297, 3, 8, 70, 37, 0, 0.5, 70, 37),
    LabelSheet("A4, 40 labels of 48.5 x 25.4 mm", "A4", 210, 297, 4, 10, 48.5, 25.4, 8, 21.5, 48.5, 25.4),
    LabelSheet("A4, 65 labels of 38.1 x 21.2 mm", "A4", 210, 297, 5, 13, 38.1, 21.2, 4.7, 10.7, 40.6, 21.2),
    LabelSheet("Letter, 30 labels of 66.7 x 25.4 mm", "letter", 215.9, 279.4, 3, 10, 66.7, 25.4, 4.8, 12.7, 69.9, 25.4),
)
"""Formats that stationers sell under many names; the measures are common practice, from memory."""


@dataclass(frozen=True)
class Spot:
    """Where a label lies: on which sheet (from 0), and its upper left corner in millimetres."""

    sheet: int
    x: float
    y: float


def sheet_named(name: str) -> LabelSheet:
    """Raises ActRefused."""
    found = next((sheet for sheet in SHEETS if sheet.name == name), None)
    if found is None:
        raise ActRefused(f"There is no label sheet '{name}'. There are: {'; '.join(one.name for one in SHEETS)}.")
    return found


def spots(sheet: LabelSheet, count: int, first: int = 1) -> Iterator[Spot]:
    """A place for each of so many labels, row by row. first: the first free one of a sheet that was begun, from 1.

    Raises ActRefused where the sheet has no such label.

    >>> [(one.sheet, one.x, one.y) for one in spots(SHEETS[1], 2, first=24)]
    [(0, 140, 259.5), (1, 0, 0.5)]
    """
    if not 1 <= first <= sheet.count:
        raise ActRefused(f"A sheet of these has labels 1 to {sheet.count}.")
    for n in range(first - 1, first - 1 + count):
        page, at = divmod(n, sheet.count)
        row, column = divmod(at, sheet.columns)
        yield Spot(page, sheet.left + column * sheet.step_x, sheet.top + row * sheet.step_y)
