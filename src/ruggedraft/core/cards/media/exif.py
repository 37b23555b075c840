"""EXIF in JPEG and in TIFF-based files (most RAW): camera, time, size, orientation, embedded preview.

Sources: TIFF 6.0 section 2 (header, image file directories); CIPA DC-008 (Exif 2.32) 4.5 and 4.6 (tags, thumbnail in
the first IFD after the primary one); ITU-T T.81 Annex B (JPEG markers). Tag numbers from memory, checked against two
general-purpose readers in the tests.
"""

import contextlib
import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import datetime, timedelta, timezone

from .facts import MediaFacts
from .kinds import MediaKind
from .window import HeaderUnreadable, Window

_SIZES = {1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 10: 8, 13: 4}
_MAKE, _MODEL, _ORIENTATION, _CHANGED = 0x010F, 0x0110, 0x0112, 0x0132
_WIDTH, _HEIGHT, _COMPRESSION, _STRIPS, _STRIP_SIZES = 0x0100, 0x0101, 0x0103, 0x0111, 0x0117
_SUB, _EXIF, _PREVIEW, _PREVIEW_SIZE = 0x014A, 0x8769, 0x0201, 0x0202
_TAKEN, _TAKEN_ZONE, _TAKEN_PART = 0x9003, 0x9011, 0x9291
_PIXELS_X, _PIXELS_Y, _SERIAL, _LENS = 0xA002, 0xA003, 0xA431, 0xA434
_MOST_DIRECTORIES, _MOST_ENTRIES, _LONGEST_VALUE = 24, 512, 1024
_ROTATIONS = {3: 180, 6: 90, 8: 270}
_DATE = re.compile(r"(\d{4}):(\d\d):(\d\d) (\d\d):(\d\d):(\d\d)")
_ZONE = re.compile(r"([+-])(\d\d):(\d\d)")
_JPEG_COMPRESSIONS = {6, 7}


@dataclass
class _Directories:
    """The tags of every directory, by where it hangs: "0", "1", "exif", "sub"."""

    window: Window
    base: int
    little: bool
    tags: dict[str, dict[int, tuple[int, ...] | str]] = field(default_factory=dict)
    previews: list[tuple[int, int]] = field(default_factory=list)
    seen: set[int] = field(default_factory=set)

    def follow(self, offset: int, place: str) -> int:
        """Read one directory; the offset of the next one in its chain, 0 at the end."""
        if offset == 0 or offset in self.seen:
            return 0
        self.seen.add(offset)
        if len(self.seen) > _MOST_DIRECTORIES:
            raise HeaderUnreadable("its header has more directories than a camera writes")
        count = self._number(offset, 2)
        if count > _MOST_ENTRIES:
            raise HeaderUnreadable("its header has more entries than a camera writes")
        found: dict[int, tuple[int, ...] | str] = {}
        for n in range(count):
            self._entry(offset + 2 + 12 * n, found)
        self.tags.setdefault(place, found)
        self._note_preview(found)
        self.follow(_one(found, _EXIF), "exif")
        for sub in _all(found, _SUB):
            self.follow(sub, "sub")
        return self._number(offset + 2 + 12 * count, 4)

    def _entry(self, at: int, found: dict[int, tuple[int, ...] | str]) -> None:
        entry = self.window.at(self.base + at, 12)
        order = "little" if self.little else "big"
        tag, kind = int.from_bytes(entry[:2], order), int.from_bytes(entry[2:4], order)  # type: ignore[arg-type]
        count = int.from_bytes(entry[4:8], order)  # type: ignore[arg-type]
        length = _SIZES.get(kind, 0) * count
        if not 0 < length <= _LONGEST_VALUE:
            return
        data = entry[8 : 8 + length] if length <= 4 else self.window.at(self.base + self._number(at + 8, 4), length)
        if kind == 2:
            found[tag] = data.split(b"\0")[0].decode("utf-8", "replace").strip()
        elif kind in (1, 3, 4, 13):
            size = _SIZES[kind]
            found[tag] = tuple(int.from_bytes(data[n : n + size], order) for n in range(0, length, size))  # type: ignore[arg-type]

    def _number(self, at: int, length: int) -> int:
        return self.window.number(self.base + at, length, little=self.little)

    def _note_preview(self, found: dict[int, tuple[int, ...] | str]) -> None:
        offset, size = _one(found, _PREVIEW), _one(found, _PREVIEW_SIZE)
        if not size and _one(found, _COMPRESSION) in _JPEG_COMPRESSIONS and len(_all(found, _STRIPS)) == 1:
            offset, size = _one(found, _STRIPS), _one(found, _STRIP_SIZES)
        if offset and size and self.base + offset + size <= self.window.size:
            self.previews.append((self.base + offset, size))


def read_jpeg(window: Window) -> MediaFacts:
    """Facts of a JPEG file: the Exif segment, and the size from the frame header."""
    if window.at(0, 2) != b"\xff\xd8":
        raise HeaderUnreadable("it does not begin as a JPEG does")
    exif, size = None, (0, 0)
    for marker, place in _segments(window):
        if marker == 0xE1 and exif is None and window.at(place + 4, 6) == b"Exif\0\0":
            exif = place + 10
        if marker in _FRAMES:
            size = (window.number(place + 7, 2), window.number(place + 5, 2))
            if exif is not None:
                break
    if exif is None:
        return MediaFacts(MediaKind.STILL, width=size[0], height=size[1], codec="JPEG")
    return facts_at(window, exif, size, "JPEG")


_FRAMES = frozenset(range(0xC0, 0xD0)) - {0xC4, 0xC8, 0xCC}
_SCAN = 0xDA


def _segments(window: Window) -> Iterator[tuple[int, int]]:
    """Marker and place of each segment before the picture itself, of not more than a camera would write."""
    place = 2
    for _ in range(200):
        marker, length = window.at(place, 2), window.number(place + 2, 2)
        if marker[0] != 0xFF or length < 2:
            raise HeaderUnreadable("its markers are out of step")
        if marker[1] == _SCAN:
            return
        yield marker[1], place
        place += 2 + length


def read_tiff(window: Window, codec: str) -> MediaFacts:
    """Facts of a TIFF file or of a RAW file built as one."""
    return facts_at(window, 0, (0, 0), codec)


def facts_at(window: Window, base: int, size: tuple[int, int], codec: str) -> MediaFacts:
    """Of a still whose TIFF header is at `base`. size: width and height where they are known already, else zeros"""
    found, note = _directories(window, base)
    first, exif = found.tags.get("0", {}), found.tags.get("exif", {})
    width = size[0] or _one(exif, _PIXELS_X) or _one(first, _WIDTH)
    height = size[1] or _one(exif, _PIXELS_Y) or _one(first, _HEIGHT)
    return MediaFacts(
        MediaKind.STILL,
        body=_body(_text(first, _MAKE), _text(first, _MODEL)),
        body_serial=_text(exif, _SERIAL),
        clock=_clock(exif, first),
        width=width,
        height=height,
        rotation=_ROTATIONS.get(_one(first, _ORIENTATION), 0),
        codec=codec,
        preview=min(found.previews, key=lambda p: p[1], default=None),
        note=note,
        lens=_text(exif, _LENS),
    )


def _directories(window: Window, base: int) -> tuple[_Directories, str]:
    """Everything that could be read, and why it was not all."""
    order = window.at(base, 4)
    if order not in (b"II*\0", b"MM\0*"):
        raise HeaderUnreadable("it does not begin as a TIFF does")
    found = _Directories(window, base, order[:1] == b"I")
    try:
        following = found.follow(window.number(base + 4, 4, little=found.little), "0")
        place = 1
        while following:
            following = found.follow(following, str(place))
            place += 1
    except HeaderUnreadable as error:
        return found, error.sentence
    return found, ""


def _clock(exif: dict[int, tuple[int, ...] | str], first: dict[int, tuple[int, ...] | str]) -> datetime | None:
    found = _DATE.fullmatch(_text(exif, _TAKEN) or _text(first, _CHANGED))
    if not found:
        return None
    part = re.sub(r"\D", "", _text(exif, _TAKEN_PART))[:6]
    with contextlib.suppress(ValueError):
        year, month, day, hour, minute, second = (int(number) for number in found.groups())
        microsecond = int(part.ljust(6, "0")) if part else 0
        clock = datetime(year, month, day, hour, minute, second, microsecond)  # noqa: DTZ001  the camera's wall clock
        zone = _ZONE.fullmatch(_text(exif, _TAKEN_ZONE))
        if zone is None:
            return clock
        ahead = timedelta(hours=int(zone[2]), minutes=int(zone[3]))
        return clock.replace(tzinfo=timezone(-ahead if zone[1] == "-" else ahead))
    return None


def _body(make: str, model: str) -> str:
    """The model, with its maker before it unless it says so itself."""
    if not make or model.lower().startswith(make.split(" ")[0].lower()):
        return model
    return f"{make} {model}".strip()


def _text(tags: dict[int, tuple[int, ...] | str], tag: int) -> str:
    value = tags.get(tag, "")
    return value if isinstance(value, str) else ""


def _all(tags: dict[int, tuple[int, ...] | str], tag: int) -> tuple[int, ...]:
    value = tags.get(tag, ())
    return value if isinstance(value, tuple) else ()


def _one(tags: dict[int, tuple[int, ...] | str], tag: int) -> int:
    return next(iter(_all(tags, tag)), 0)
