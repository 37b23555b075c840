"""QuickTime and MP4: what the movie's index says.

Sources: ISO/IEC 14496-12 (box structure, mvhd, tkhd, mdhd, hdlr, stsd, stts, stsz, stco, co64) and the QuickTime File
Format specification (tmcd media, user data). Layouts from memory, checked against ffprobe and ffmpeg in the tests.
"""

import contextlib
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from fractions import Fraction

from .facts import MediaFacts
from .kinds import MediaKind
from .timecode import timecode
from .window import HeaderUnreadable, Window

_EPOCH = datetime(1904, 1, 1, tzinfo=UTC)
_MOST_BOXES = 400
_MOST_TIMES = 2000
_NESTED = {b"moov", b"trak", b"mdia", b"minf", b"stbl", b"udta"}


@dataclass(frozen=True)
class _Box:
    kind: bytes
    start: int
    """offset of its content"""
    end: int


@dataclass
class _Track:
    handler: bytes = b""
    codec: bytes = b""
    width: int = 0
    height: int = 0
    channels: int = 0
    sample_rate: int = 0
    rate: Fraction | None = None
    timecode: str = ""
    first_frame: tuple[int, int] | None = None
    """offset and length in bytes, where it is a JPEG"""


def read_movie(window: Window) -> MediaFacts:
    """Raises HeaderUnreadable where there is no index: recording was cut off, or this is no movie."""
    boxes = _Boxes(window)
    moov = next((box for box in boxes.within(0, window.size) if box.kind == b"moov"), None)
    if moov is None:
        raise HeaderUnreadable("it has no index: the recording was cut off, or the file is damaged")
    clock: datetime | None = None
    duration: float | None = None
    words: dict[bytes, str] = {}
    tracks: list[_Track] = []
    for box in boxes.within(moov.start, moov.end):
        if box.kind == b"mvhd":
            clock, duration = _movie_header(window, box)
        elif box.kind == b"trak":
            tracks.append(_track(window, boxes, box))
        elif box.kind == b"udta":
            words |= _user_data(window, boxes, box)
    return _of_tracks(tracks, words)._replace(clock=clock, duration_s=duration)


def _of_tracks(tracks: list[_Track], words: dict[bytes, str]) -> MediaFacts:
    """What the first picture and the first sound say."""
    picture, sound = _first(tracks, b"vide"), _first(tracks, b"soun") or _Track()
    shown = picture or sound
    rate = shown.rate
    return MediaFacts(
        MediaKind.VIDEO if picture else MediaKind.SOUND,
        body=" ".join(words[name] for name in (b"\xa9mak", b"\xa9mod") if words.get(name)),
        width=shown.width,
        height=shown.height,
        rate=f"{rate.numerator}/{rate.denominator}" if rate else "",
        codec=shown.codec.decode("latin-1").strip(),
        timecode=next((track.timecode for track in tracks if track.timecode), ""),
        channels=sound.channels,
        sample_rate=sound.sample_rate,
        preview=shown.first_frame,
    )


def _first(tracks: list[_Track], handler: bytes) -> _Track | None:
    return next((track for track in tracks if track.handler == handler), None)


class _Boxes:
    """Walks boxes, and counts: a file of a million empty boxes is cut off."""

    def __init__(self, window: Window) -> None:
        self._window, self._seen = window, 0

    def within(self, start: int, end: int) -> Iterator[_Box]:
        """The boxes between two places of the file, not those inside them. Raises HeaderUnreadable if there are too
        many."""
        place = start
        while place + 8 <= end:
            self._seen += 1
            if self._seen > _MOST_BOXES:
                raise HeaderUnreadable("its index has more parts than a camera writes")
            head = self._window.at(place, 8)
            size, kind, content = int.from_bytes(head[:4], "big"), head[4:], place + 8
            if size == 1:
                size, content = self._window.number(place + 8, 8), place + 16
            finish = end if size == 0 else place + size
            if finish < content or finish > end:
                if kind == b"mdat":
                    raise HeaderUnreadable("it ends before its recording does")
                raise HeaderUnreadable("a part of its index is larger than the whole")
            yield _Box(kind, content, finish)
            place = finish


def _movie_header(window: Window, box: _Box) -> tuple[datetime | None, float | None]:
    long = window.number(box.start, 1) == 1
    created = window.number(box.start + 4, 8 if long else 4)
    scale = window.number(box.start + (20 if long else 12), 4)
    length = window.number(box.start + (24 if long else 16), 8 if long else 4)
    clock = None
    with contextlib.suppress(OverflowError):
        clock = _EPOCH + timedelta(seconds=created) if created else None
    return clock, (length / scale if scale else None)


def _track(window: Window, boxes: _Boxes, trak: _Box) -> _Track:
    track = _Track()
    found = _descend(boxes, trak, (b"mdia",))
    media = {box.kind: box for box in boxes.within(found.start, found.end)} if found else {}
    if b"hdlr" in media:
        track.handler = window.at(media[b"hdlr"].start + 8, 4)
    table = _descend(boxes, media[b"minf"], (b"stbl",)) if b"minf" in media else None
    if table is None or b"mdhd" not in media:
        return track
    tables = {box.kind: box for box in boxes.within(table.start, table.end)}
    _read_tables(window, tables, _scale(window, media[b"mdhd"]), track)
    return track


def _scale(window: Window, mdhd: _Box) -> int:
    """Units of time in a second."""
    long = window.number(mdhd.start, 1) == 1
    return window.number(mdhd.start + (20 if long else 12), 4)


def _read_tables(window: Window, tables: dict[bytes, _Box], scale: int, track: _Track) -> None:
    if b"stsd" in tables:
        _describe(window, tables[b"stsd"], track)
    if track.handler == b"vide" and b"stts" in tables:
        track.rate = _rate(window, tables[b"stts"], scale)
    if track.codec in _JPEG_FRAMES and b"stsz" in tables:
        track.first_frame = _first_sample(window, tables)
    if track.codec == b"tmcd" and b"stsd" in tables:
        track.timecode = _timecode(window, tables)


_JPEG_FRAMES = {b"jpeg", b"mjpa", b"MJPG", b"mjpg"}
"""Codecs of which each frame is a JPEG by itself."""


def _first_sample(window: Window, tables: dict[bytes, _Box]) -> tuple[int, int] | None:
    """Where the first sample of a track lies: its first chunk begins with it."""
    place = _first_chunk(window, tables)
    sizes = tables[b"stsz"].start
    same_size, count = window.number(sizes + 4, 4), window.number(sizes + 8, 4)
    if place is None or not count:
        return None
    return place, same_size or window.number(sizes + 12, 4)


def _first_chunk(window: Window, tables: dict[bytes, _Box]) -> int | None:
    if b"co64" in tables:
        return window.number(tables[b"co64"].start + 8, 8)
    return window.number(tables[b"stco"].start + 8, 4) if b"stco" in tables else None


def _descend(boxes: _Boxes, box: _Box, path: tuple[bytes, ...]) -> _Box | None:
    for kind in path:
        inner = next((found for found in boxes.within(box.start, box.end) if found.kind == kind), None)
        if inner is None:
            return None
        box = inner
    return box


def _describe(window: Window, stsd: _Box, track: _Track) -> None:
    entry = stsd.start + 8
    track.codec = window.at(entry + 4, 4)
    if track.handler == b"vide":
        track.width, track.height = window.number(entry + 32, 2), window.number(entry + 34, 2)
    elif track.handler == b"soun":
        track.channels, track.sample_rate = window.number(entry + 24, 2), window.number(entry + 32, 2)


def _rate(window: Window, stts: _Box, scale: int) -> Fraction | None:
    """Frames by their time: exact for a constant rate, the average for a varying one."""
    entries = min(window.number(stts.start + 4, 4), _MOST_TIMES)
    frames = ticks = 0
    for n in range(entries):
        count, step = window.number(stts.start + 8 + 8 * n, 4), window.number(stts.start + 12 + 8 * n, 4)
        frames, ticks = frames + count, ticks + count * step
    return Fraction(frames * scale, ticks).limit_denominator(1_000_000) if ticks else None


def _timecode(window: Window, tables: dict[bytes, _Box]) -> str:
    """The start timecode: a frame number in the track's one sample (QuickTime, 'Timecode media')."""
    entry = tables[b"stsd"].start + 8
    drop = window.number(entry + 20, 4) & 1
    frames_per_s = window.number(entry + 32, 1)
    place = _first_chunk(window, tables)
    if place is None:
        return ""
    return timecode(window.number(place, 4), frames_per_s, drop=bool(drop))


def _user_data(window: Window, boxes: _Boxes, udta: _Box) -> dict[bytes, str]:
    """Words of the movie: maker and model (QuickTime, 'User data text')."""
    words = {}
    for box in boxes.within(udta.start, udta.end - 4 if (udta.end - udta.start) % 8 == 4 else udta.end):
        if box.kind[:1] == b"\xa9" and box.end - box.start > 4:
            length = min(window.number(box.start, 2), box.end - box.start - 4, 200)
            words[box.kind] = window.at(box.start + 4, length).decode("utf-8", "replace").strip("\0 ")
    return words
