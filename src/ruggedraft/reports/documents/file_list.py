"""Every file of an account on paper, a roll after the other, each page with the roll's tag; then its contact sheet.

Drawn line by line and not laid out as text is: twenty thousand files are some hundreds of pages.
"""

import io
from collections.abc import Callable, Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from functools import cache
from zoneinfo import ZoneInfo

from reportlab.lib.pagesizes import A4
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from ruggedraft.core.accounts import Account, AccountFile, AccountPicture, AccountRoll

from .faces import HEAD, MONO, TEXT, Face, faces, stretches

_MM = 72 / 25.4
_WIDE, _HIGH = A4
_LEFT, _RIGHT, _TOP, _BOTTOM = 14 * _MM, _WIDE - 14 * _MM, _HIGH - 16 * _MM, 16 * _MM
_SIZE, _LINE = 6.5, 8.4
"""Points, of the list."""
_AT_BYTES, _AT_TIME, _AT_SUM = _LEFT + 262, _LEFT + 272, _LEFT + 356
_HEAD_ROOM = 34
_LINES = int((_TOP - _HEAD_ROOM - _BOTTOM) / _LINE)
_ACROSS, _DOWN = 5, 7
"""Pictures on a page of a contact sheet."""
_A_SHEET = _ACROSS * _DOWN


@dataclass(frozen=True)
class _Line:
    """parts: words and where they begin, in points. right: words that end at `_AT_BYTES`. begins: a file does"""

    parts: tuple[tuple[float, str], ...]
    right: str = ""
    begins: bool = False


@dataclass(frozen=True)
class _Page:
    """roll: whose page it is. pictures: of a contact sheet; of any other there are lines"""

    roll: AccountRoll
    lines: Sequence[_Line] = ()
    pictures: Sequence[AccountPicture] = ()


class FileList:
    """The pages of an account that list its files. which: what stands beneath each page"""

    def __init__(self, account: Account, which: str) -> None:
        self._account, self._which = account, which
        self._zone = ZoneInfo(account.time_zone)
        self._pages = [page for roll in account.rolls for page in self._of_roll(roll)]

    @property
    def pages(self) -> int:
        """How many there are."""
        return len(self._pages)

    def drawn(self, picture: Callable[[str], bytes | None], before: int, of: int, tell: Callable[[int], None]) -> bytes:
        """As PDF; empty where there is no page. before: so many pages come first, of so many in all.

        picture: JPEG by its SHA-256. tell: how many files are drawn by now
        """
        if not self._pages:
            return b""
        _register()
        made = io.BytesIO()
        canvas = Canvas(made, pagesize=A4, invariant=1, pageCompression=1)
        files = 0
        for number, page in enumerate(self._pages, before + 1):
            self._frame(canvas, page, f"{number} of {of}")
            if page.pictures:
                _draw_sheet(canvas, page.pictures, picture)
            _draw_lines(canvas, page.lines)
            files += sum(line.begins for line in page.lines)
            tell(files)
            canvas.showPage()
        canvas.save()
        return made.getvalue()

    def _of_roll(self, roll: AccountRoll) -> Iterator[_Page]:
        lines = list(self._lines(roll))
        for n in range(0, len(lines), _LINES):
            yield _Page(roll, lines[n : n + _LINES])
        for n in range(0, len(roll.pictures), _A_SHEET):
            yield _Page(roll, pictures=roll.pictures[n : n + _A_SHEET])

    def _lines(self, roll: AccountRoll) -> Iterator[_Line]:
        for file in roll.files:
            yield from self._of_file(roll, file)
        if roll.left_behind:
            yield _Line(((_LEFT, "Left on the card on purpose:"),))
        for left in roll.left_behind:
            said = f"{self._moment(left.at)}, {left.by}"
            yield from _with_name(left.path, f"{left.size:,}", ((_AT_TIME, said),), begins=False)

    def _of_file(self, roll: AccountRoll, file: AccountFile) -> Iterator[_Line]:
        checksum = file.checksum or "not read off the card"
        beside = _AT_SUM + _wide(checksum) <= _RIGHT
        told = ((_AT_TIME, self._moment(file.modified_at)), *([(_AT_SUM, checksum)] if beside else ()))
        yield from _with_name(file.kept_as, f"{file.size:,}", tuple(told), begins=True)
        if not beside:
            yield from _wrapped(f"{roll.algorithm} {checksum}")
        for words in _further(file):
            yield from _wrapped(words)

    def _moment(self, at: datetime) -> str:
        return f"{at.astimezone(self._zone):%Y-%m-%d %H:%M:%S}"

    def _frame(self, canvas: Canvas, page: _Page, number: str) -> None:
        roll = page.roll
        _say(canvas, _LEFT, _TOP - 16, roll.tag, 18, HEAD, weight=700)
        what = "contact sheet" if page.pictures else "file · bytes · modified · " + roll.algorithm
        _say(canvas, _LEFT + 90, _TOP - 16, what, 8, TEXT)
        canvas.setLineWidth(1)
        canvas.line(_LEFT, _TOP - 22, _RIGHT, _TOP - 22)
        _say(canvas, _LEFT, _BOTTOM - 16, self._which, 8, TEXT)
        _say(canvas, _RIGHT - _wide(number, 8, TEXT), _BOTTOM - 16, number, 8, TEXT)


def _further(file: AccountFile) -> Iterator[str]:
    if file.path != file.kept_as:
        yield f"on the card: {file.path}"
    for name, checksum in sorted(file.more.items()):
        yield f"{name} {checksum}"
    if file.waived:
        yield "waived: it need not be covered"
    for one in file.missing:
        yield f"not known to be on {one.store}" + (f": {one.result}" if one.result else "")


_INDENT = 12.0


def _with_name(name: str, size: str, told: tuple[tuple[float, str], ...], *, begins: bool) -> Iterator[_Line]:
    """A name that leaves no room for what is told of it has lines of its own."""
    room = _AT_BYTES - _LEFT - _wide(size) - 6
    if _wide(name) <= room:
        yield _Line(((_LEFT, name), *told), size, begins=begins)
        return
    first, *others = _broken(name, _RIGHT - _LEFT)
    yield _Line(((_LEFT, first),), begins=begins)
    yield from (_Line(((_LEFT, other),)) for other in others)
    yield _Line(told, size)


def _wrapped(words: str) -> Iterator[_Line]:
    for part in _broken(words, _RIGHT - _LEFT - _INDENT):
        yield _Line(((_LEFT + _INDENT, part),))


def _broken(words: str, room: float) -> Iterator[str]:
    """Words in pieces that have room, broken anywhere: a name is no sentence."""
    piece, used = "", 0.0
    for face, run in stretches(words, faces(*MONO)):
        for sign in run:
            wide = _width(face, sign)
            if used + wide > room:
                yield piece
                piece, used = "", 0.0
            piece, used = piece + sign, used + wide
    yield piece


def _wide(words: str, size: float = _SIZE, families: Sequence[str] = MONO) -> float:
    """Points."""
    if families is MONO and words.isascii() and words.isprintable():
        return len(words) * _width(faces(*MONO)[0], "0") * size / _SIZE
    runs = stretches(words, faces(*families))
    return sum((float(pdfmetrics.stringWidth(run, _registered(face), size)) for face, run in runs), 0.0)


@cache
def _width(face: Face, sign: str) -> float:
    """At the size of the list."""
    return float(pdfmetrics.stringWidth(sign, _registered(face), _SIZE))


@cache
def _registered(face: Face) -> str:
    pdfmetrics.registerFont(TTFont(face.name, io.BytesIO(face.as_truetype())))
    return face.name


def _register() -> None:
    """All of them before a page is drawn, so that what stands in a document does not rest on what was drawn before."""
    for face in (*faces(*MONO), *faces(*TEXT), *faces(*HEAD, weight=700)):
        _registered(face)


def _say(
    canvas: Canvas, x: float, y: float, words: str, size: float, families: Sequence[str], weight: int = 400
) -> None:
    for face, run in stretches(words, faces(*families, weight=weight)):
        canvas.setFont(_registered(face), size)
        canvas.drawString(x, y, run)
        x += pdfmetrics.stringWidth(run, face.name, size)


def _draw_lines(canvas: Canvas, lines: Sequence[_Line]) -> None:
    for number, line in enumerate(lines):
        y = _TOP - _HEAD_ROOM - number * _LINE
        for x, words in line.parts:
            _say(canvas, x, y, words, _SIZE, MONO)
        if line.right:
            _say(canvas, _AT_BYTES - _wide(line.right), y, line.right, _SIZE, MONO)


def _draw_sheet(canvas: Canvas, pictures: Sequence[AccountPicture], picture: Callable[[str], bytes | None]) -> None:
    wide, high = (_RIGHT - _LEFT) / _ACROSS, (_TOP - _HEAD_ROOM - _BOTTOM) / _DOWN
    for number, one in enumerate(pictures):
        x, y = _LEFT + number % _ACROSS * wide, _TOP - _HEAD_ROOM - (number // _ACROSS + 1) * high
        _draw_picture(canvas, picture(one.digest), (x, y + 14, wide - 6, high - 20))
        name = next(_broken(one.path.rpartition("/")[2], wide - 6))
        _say(canvas, x, y + 5, name, _SIZE, MONO)


def _draw_picture(canvas: Canvas, data: bytes | None, box: tuple[float, float, float, float]) -> None:
    """An empty frame where it is lost, or is none."""
    x, y, wide, high = box
    with suppress(OSError, ValueError):
        if data is not None:
            canvas.drawImage(ImageReader(io.BytesIO(data)), x, y, wide, high, preserveAspectRatio=True, anchor="sw")
            return
    canvas.setLineWidth(0.3)
    canvas.rect(x, y, wide, high)
