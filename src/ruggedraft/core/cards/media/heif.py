"""HEIF stills: where the header keeps its Exif, and how large the picture is.

Sources: ISO/IEC 14496-12 (boxes; 8.11 meta, iinf, iloc) and ISO/IEC 23008-12 (ispe; an Exif item begins with where its
TIFF header is). Layouts from memory, checked against pillow-heif and exiftool in the tests.
"""

from collections.abc import Iterator

from .exif import facts_at
from .facts import MediaFacts
from .kinds import MediaKind
from .window import HeaderUnreadable, Window

_MOST_BOXES, _MOST_ITEMS = 200, 4000
_Span = tuple[int, int]
"""Where something begins, and where it ends."""


def read_heif(window: Window) -> MediaFacts:
    """Facts of a HEIF still. What turns it is not told: readers turn such pictures themselves."""
    if window.at(4, 4) != b"ftyp":
        raise HeaderUnreadable("it does not begin as a HEIF file does")
    meta = _first(window, (0, window.size), b"meta")
    if meta is None:
        raise HeaderUnreadable("it has no index of what is in it")
    inside = (meta[0] + 4, meta[1])
    size, exif = _size(window, inside), _exif(window, inside)
    if exif is None:
        return MediaFacts(MediaKind.STILL, width=size[0], height=size[1], codec="HEIF")
    return facts_at(window, exif, size, "HEIF")._replace(rotation=0)


def _boxes(window: Window, span: _Span) -> Iterator[tuple[bytes, _Span]]:
    """Kind and content of each box, of not more than a camera would write."""
    place, end = span
    for _ in range(_MOST_BOXES):
        if place + 8 > end:
            return
        length, kind, head = window.number(place, 4), window.at(place + 4, 4), 8
        if length == 1:
            length, head = window.number(place + 8, 8), 16
        following = end if length == 0 else place + length
        if following < place + head or following > end:
            raise HeaderUnreadable("its boxes are out of step")
        yield kind, (place + head, following)
        place = following


def _first(window: Window, span: _Span, kind: bytes) -> _Span | None:
    return next((inside for found, inside in _boxes(window, span) if found == kind), None)


def _size(window: Window, meta: _Span) -> tuple[int, int]:
    """Width and height of the largest picture: tiles and thumbnails are told beside it."""
    properties = _first(window, meta, b"iprp")
    container = _first(window, properties, b"ipco") if properties else None
    each = [
        (window.number(at + 4, 4), window.number(at + 8, 4))
        for kind, (at, _) in (_boxes(window, container) if container else ())
        if kind == b"ispe"
    ]
    return max(each, key=lambda one: one[0] * one[1], default=(0, 0))


def _exif(window: Window, meta: _Span) -> int | None:
    """Where the TIFF header of its Exif is; None without any."""
    items, places = _first(window, meta, b"iinf"), _first(window, meta, b"iloc")
    item = _item(window, items) if items else None
    at = _place(window, places[0], item) if places and item is not None else None
    return None if at is None else at + 4 + window.number(at, 4)


def _item(window: Window, items: _Span) -> int | None:
    """The number of the item that is Exif."""
    begins = items[0] + (6 if window.number(items[0], 1) == 0 else 8)
    for kind, (at, _) in _boxes(window, (begins, items[1])):
        long = 4 if window.number(at, 1) >= 3 else 2
        if kind == b"infe" and window.at(at + 4 + long + 2, 4) == b"Exif":
            return window.number(at + 4, long)
    return None


def _place(window: Window, at: int, wanted: int) -> int | None:
    """Where an item begins in the file; None where it is not told, or lies somewhere else."""
    version, sizes = window.number(at, 1), window.number(at + 4, 2)
    offset, length, base, index = (sizes >> shift & 15 for shift in (12, 8, 4, 0))
    number = 4 if version == 2 else 2
    count, place = window.number(at + 6, number), at + 6 + number
    for _ in range(min(count, _MOST_ITEMS)):
        item, place = window.number(place, number), place + number
        elsewhere = bool(version) and window.number(place, 2) & 15 != 0
        place += 4 if version else 2
        begins, extents = window.number(place, base), window.number(place + base, 2)
        place += base + 2
        ahead = index if version else 0
        if item == wanted:
            return None if elsewhere or not extents else begins + window.number(place + ahead, offset)
        place += extents * (ahead + offset + length)
    return None
