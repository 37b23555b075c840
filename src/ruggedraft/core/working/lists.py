"""The files that a project names, from a table (CSV) or a timeline (OpenTimelineIO's JSON, read by its own library)."""

import json
import sys
import tempfile
from collections.abc import Iterable, Sequence
from pathlib import Path
from urllib.parse import unquote, urlsplit

from ..cards.media.kinds import ending
from ..errors import TableRefused
from ..pictures import CannotBeShown, bounds
from ..tables import read_table

MOST_BYTES = 20_000_000
MOST = 20_000
_SECONDS = 30
_NO_TIMELINE = (
    "This begins as a timeline does, and cannot be read as one: {}. Export it as OpenTimelineIO (.otio) again."
)


def read_project_list(data: bytes) -> tuple[str, ...]:
    """Names or paths of files, each once, in their order; `/` between parts. Raises TableRefused with a sentence.

    A timeline is what begins as JSON does. Of a table it is the column most of whose cells are names of files.
    """
    if len(data) > MOST_BYTES:
        raise TableRefused(f"This file has {len(data):,} bytes: at most {MOST_BYTES:,} are read of a list.")
    plain = data.removeprefix(b"\xef\xbb\xbf").lstrip()
    found = _of_timeline(plain) if plain[:1] in (b"{", b"[") else _of_table(data)
    names = tuple(dict.fromkeys(name for name in map(_as_path, found) if name))
    if not names:
        raise TableRefused(
            "No file is named in this list: it needs names or paths with an ending, such as A012C003.MOV."
        )
    if len(names) > MOST:
        raise TableRefused(f"This list names {len(names):,} files: at most {MOST:,} are looked for at a time.")
    return names


def _of_table(data: bytes) -> Iterable[str]:
    """One name a line is a list too, though no table."""
    try:
        table = read_table(data)
    except TableRefused:
        if lines := _one_a_line(data):
            return lines
        raise
    columns = zip(table.head, *(row.cells for row in table.rows), strict=True)  # a table may have no heading
    return filter(_is_like_file, max(columns, key=_like_files))


def _one_a_line(data: bytes) -> list[str]:
    """Its lines, where each is the name of a file; none where one is not, but for a heading."""
    lines = [line for line in data.decode("utf-8-sig", "replace").splitlines() if line.strip()]
    named = list(filter(_is_like_file, lines))
    return named if named and named in (lines, lines[1:]) else []


def _like_files(cells: Iterable[str]) -> tuple[int, int]:
    """How many cells are names of files; and of those, how many are paths."""
    found = [cell for cell in cells if _is_like_file(cell)]
    return len(found), sum("/" in cell or "\\" in cell for cell in found)


def _is_like_file(cell: str) -> bool:
    """A number with a decimal point has no ending, and neither has a sentence.

    >>> [_is_like_file(cell) for cell in ("A/B 1.MOV", "25.00", "12:03:10.250", "gull. Again", "")]
    [True, False, False, False, False]
    """
    last = ending(cell.replace("\\", "/"))
    return 1 < len(last) <= 5 and last.isalnum() and not last.isdecimal()


def _of_timeline(data: bytes) -> Sequence[str]:
    """In a process of its own: what is hostile ends that one, and not us."""
    with tempfile.TemporaryFile() as file:
        file.write(data)
        file.flush()
        program = [sys.executable, "-P", str(Path(__file__).with_name("timelines.py")), f"/dev/fd/{file.fileno()}"]
        program.append(str(MOST))
        try:
            told = json.loads(bounds.run(program, file.fileno(), _SECONDS))
        except (CannotBeShown, ValueError) as error:
            raise TableRefused(_NO_TIMELINE.format("what reads it came to no end")) from error
    if "why" in told:
        raise TableRefused(_NO_TIMELINE.format(told["why"]))
    urls: list[str] = told["urls"]
    return urls


def _as_path(name: str) -> str:
    r"""A URL of a file as its path (RFC 8089); anything else as it stands.

    >>> _as_path("file:///mnt/a%20b/C1.MOV"), _as_path("file:///D:/x/C1.MOV"), _as_path("D:\\x\\C1.MOV")
    ('/mnt/a b/C1.MOV', 'D:/x/C1.MOV', 'D:/x/C1.MOV')
    """
    if name.lower().startswith("file:"):
        name = unquote(urlsplit(name).path)
        if name[2:3] == ":":  # a drive's letter
            name = name[1:]
    return name.replace("\\", "/").strip().rstrip("/")
