"""Writing CSV that opens as what it says, whatever names people and cameras give."""

import csv
import io
from collections.abc import Iterable, Sequence

_BEGINS_A_FORMULA = ("=", "+", "-", "@", "\t", "\r")
"""What a spreadsheet takes for the beginning of one (OWASP, 'CSV Injection')."""


def plain_cell(value: object) -> object:
    """A value as a cell that no spreadsheet works out. Numbers stay numbers.

    >>> plain_cell("=1+1"), plain_cell("A001"), plain_cell(-3)
    ("'=1+1", 'A001', -3)
    """
    if isinstance(value, (int, float)):
        return value
    text = str(value)
    return f"'{text}" if text.startswith(_BEGINS_A_FORMULA) else text


def as_csv(head: Sequence[str], rows: Iterable[Sequence[object]]) -> bytes:
    """UTF-8 with its mark, so that spreadsheets take it for that; lines end as RFC 4180 asks."""
    made = io.StringIO()
    table = csv.writer(made, lineterminator="\r\n")
    table.writerow(head)
    table.writerows([plain_cell(value) for value in row] for row in rows)
    return made.getvalue().encode("utf-8-sig")
