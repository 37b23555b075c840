"""Broadcast WAV: format, length, time of origin.

Sources: EBU Tech 3285 (bext chunk), EBU Tech 3306 and ITU-R BS.2088 (RF64, BW64: sizes in a ds64 chunk). From memory,
checked against ffprobe in the tests.
"""

import contextlib
from datetime import datetime

from .facts import MediaFacts
from .kinds import MediaKind
from .window import HeaderUnreadable, Window

_MOST_CHUNKS = 100
_CODECS = {1: "PCM", 3: "float PCM", 0xFFFE: "PCM"}


def read_wave(window: Window) -> MediaFacts:
    """Facts of a WAV or RF64 file (EBU Tech 3285 and 3306). Raises HeaderUnreadable."""
    form = window.at(0, 12)
    if form[:4] not in (b"RIFF", b"RF64", b"BW64") or form[8:] != b"WAVE":
        raise HeaderUnreadable("it does not begin as a WAV does")
    chunks, long_size = _chunks(window)
    if "fmt " not in chunks:
        raise HeaderUnreadable("it has no format: the recording was cut off, or the file is damaged")
    at = chunks["fmt "][0]
    codec, channels = window.number(at, 2, little=True), window.number(at + 2, 2, little=True)
    sample_rate, block = window.number(at + 4, 4, little=True), window.number(at + 12, 2, little=True)
    start, size = chunks.get("data", (0, 0))
    size = long_size if size == 0xFFFFFFFF and long_size else size
    note = "" if start + size <= window.size else "it ends before its recording does"
    body, clock, sample_time = _origin(window, *chunks["bext"]) if "bext" in chunks else ("", None, None)
    return MediaFacts(
        MediaKind.SOUND,
        body=body,
        clock=clock,
        duration_s=size / (block * sample_rate) if block and sample_rate else None,
        codec=_CODECS.get(codec, f"format {codec}"),
        channels=channels,
        sample_rate=sample_rate,
        sample_time=sample_time,
        note=note,
    )


def _chunks(window: Window) -> tuple[dict[str, tuple[int, int]], int]:
    """Offset and size of each chunk's content, and the data size a ds64 chunk gives."""
    found: dict[str, tuple[int, int]] = {}
    place, long_size = 12, 0
    for _ in range(_MOST_CHUNKS):
        if place + 8 > window.size:
            return found, long_size
        head = window.at(place, 8)
        name, size = head[:4].decode("latin-1"), int.from_bytes(head[4:], "little")
        found.setdefault(name, (place + 8, size))
        if name == "ds64" and size >= 24:
            long_size = window.number(place + 16, 8, little=True)
        if name == "data" and size == 0xFFFFFFFF:
            size = long_size
        place += 8 + size + size % 2
    return found, long_size


def _origin(window: Window, at: int, size: int) -> tuple[str, datetime | None, int | None]:
    """What wrote it, when by its own clock, and the samples since midnight."""
    body = _words(window, at + 256, 32)
    if size < 346:
        return body, None, None
    date, time = _words(window, at + 320, 10), _words(window, at + 330, 8)
    samples = window.number(at + 338, 8, little=True)
    with contextlib.suppress(ValueError):  # separators are free in EBU Tech 3285
        digits = [int(date[:4]), int(date[5:7]), int(date[8:]), int(time[:2]), int(time[3:5]), int(time[6:])]
        return body, datetime(*digits), samples  # type: ignore[arg-type]  # noqa: DTZ001  the recorder's own wall clock
    return body, None, samples


def _words(window: Window, at: int, length: int) -> str:
    return window.at(at, length).split(b"\0")[0].decode("utf-8", "replace").strip()
