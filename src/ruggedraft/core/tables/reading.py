"""Reading CSV as people's programs write it: whatever separates, whatever encoding, a title above the head or none."""

import csv
import io
import math
import re
from collections import Counter
from dataclasses import dataclass

from ..errors import TableRefused

MOST_BYTES = 1_000_000
MOST_ROWS = 20_000
MOST_COLUMNS = 100
_SEPARATORS = ",;\t|"
_LOOKED_AT = 40
"""Rows by which the separator and the head are found."""
_NOT_TEXT = {b"PK\x03\x04": "a spreadsheet or an archive", b"%PDF": "a PDF", b"\xd0\xcf\x11\xe0": "a spreadsheet"}
"""How files begin that are taken for CSV: ZIP (APPNOTE.TXT), PDF (ISO 32000), OLE compound file ([MS-CFB])."""
_NO_TEXT = re.compile(r"[\x00-\x08\x0e-\x1f]")


@dataclass(frozen=True)
class Row:
    """line: of the file, from 1. cells: as many as the head has names"""

    line: int
    cells: tuple[str, ...]


@dataclass(frozen=True)
class Table:
    """head: names of the columns, each once. rows: those with anything in them"""

    head: tuple[str, ...]
    rows: tuple[Row, ...]


def read_table(data: bytes) -> Table:
    """Raises TableRefused with what is wrong."""
    lines = _rows(_text(data))
    if not lines:
        raise TableRefused("There is nothing in this file.")
    width = max(_filled(cells) for _, cells in lines[:_LOOKED_AT])
    at = next((n for n, (_, cells) in enumerate(lines) if _filled(cells) >= max(2, math.ceil(0.6 * width))), None)
    if at is None:
        raise TableRefused("This is no table: no line of it has two cells. Export it as CSV, with names of columns.")
    head = _each_once(lines[at][1])
    if len(head) > MOST_COLUMNS:
        raise TableRefused(f"This table has {len(head):,} columns: at most {MOST_COLUMNS} are read.")
    rows = tuple(Row(line, _as_wide(cells, len(head))) for line, cells in lines[at + 1 :])
    return Table(head, rows)


def _text(data: bytes) -> str:
    if len(data) > MOST_BYTES:
        raise TableRefused(f"This file has {len(data):,} bytes: at most {MOST_BYTES:,} are read of a table.")
    for begins, what in _NOT_TEXT.items():
        if data.startswith(begins):
            raise TableRefused(f"This is {what}, and no CSV: export it as CSV.")
    for encoding in _encodings(data):
        try:
            text = data.decode(encoding)
        except UnicodeDecodeError:
            continue
        if not _NO_TEXT.search(text):
            return text
    raise TableRefused("This is no text, and so no CSV.")


def _encodings(data: bytes) -> tuple[str, ...]:
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        return ("utf-16",)
    return ("utf-8-sig", "cp1252", "latin-1")


def _rows(text: str) -> list[tuple[int, list[str]]]:
    """By the separator with which most rows have as many cells as each other, and the most of them."""
    return max((_split(text, one) for one in _SEPARATORS), key=_regular)


def _split(text: str, separator: str) -> list[tuple[int, list[str]]]:
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator)
    found: list[tuple[int, list[str]]] = []
    try:
        for cells in reader:
            stripped = [" ".join(cell.split()) for cell in cells]
            if any(stripped):
                found.append((reader.line_num, stripped))
            if len(found) > MOST_ROWS:
                raise TableRefused(f"This table has more than {MOST_ROWS:,} lines: that is no report of one shoot.")
    except csv.Error as error:
        raise TableRefused(f"This is no CSV that can be read: {error}, in line {reader.line_num}.") from error
    return found


def _regular(rows: list[tuple[int, list[str]]]) -> int:
    """How many cells there are in rows that are as wide as most, were they all of one width."""
    widths = Counter(len(cells) for _, cells in rows[:_LOOKED_AT] if len(cells) > 1)
    return max((width * count for width, count in widths.items()), default=0)


def _filled(cells: list[str]) -> int:
    return sum(map(bool, cells))


def _each_once(names: list[str]) -> tuple[str, ...]:
    """A column without a name is called by its place; one of the same name gets a number."""
    while names and not names[-1]:
        names = names[:-1]
    found: list[str] = []
    for place, name in enumerate(names, 1):
        called, again = name or f"column {place}", 1
        while called in found:
            again += 1
            called = f"{name or f'column {place}'} ({again})"
        found.append(called)
    return tuple(found)


def _as_wide(cells: list[str], width: int) -> tuple[str, ...]:
    return tuple((cells + [""] * width)[:width])
