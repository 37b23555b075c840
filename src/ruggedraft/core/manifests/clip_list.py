"""Lists of clips for editing: CSV (RFC 4180), and OpenTimelineIO through its own library.

Media are named by their places on a store, from its top: beside the same copy on any other drive the list is as good.
"""

from collections.abc import Iterable, Sequence
from fractions import Fraction
from typing import NamedTuple
from urllib.parse import quote

import opentimelineio as otio

from ..cards.media import MediaFacts
from ..cards.media.timecode import frame_number
from ..tables import as_csv


class ListedClip(NamedTuple):
    """name: as people call it. path: of its main file on a store, from the store's top

    starts: when it began, as text with its zone. checksum: of the main file, empty where it was never read
    """

    name: str
    path: str
    starts: str
    size: int
    checksum: str
    facts: MediaFacts


_HEAD = (
    "clip", "file", "starts", "seconds", "frames a second", "timecode", "width", "height", "codec", "sound channels",
    "camera", "lens", "bytes", "checksum",
)  # fmt: skip


def clips_as_csv(clips: Iterable[ListedClip], algorithm: str) -> bytes:
    """A line a clip, in their order; no cell is taken for a formula. algorithm: of the checksums"""
    rows = (
        (
            one.name, one.path, one.starts, "" if one.facts.duration_s is None else round(one.facts.duration_s, 3),
            one.facts.rate, one.facts.timecode, one.facts.width or "", one.facts.height or "", one.facts.codec,
            one.facts.channels or "", one.facts.body, one.facts.lens, one.size,
            f"{algorithm}:{one.checksum}" if one.checksum else "",
        )
        for one in clips
    )  # fmt: skip
    return as_csv(_HEAD, rows)


def clips_as_timeline(title: str, clips: Sequence[ListedClip]) -> bytes:
    """One track with all recordings whose length is known, one after the other, each in whole."""
    timeline = otio.schema.Timeline(title)
    track = otio.schema.Track("clips", kind=otio.schema.TrackKind.Video)
    timeline.tracks.append(track)
    for one in clips:
        if one.facts.duration_s:
            track.append(_clip(one, one.facts.duration_s))
    return str(otio.adapters.write_to_string(timeline, "otio_json")).encode()


def _clip(one: ListedClip, seconds: float) -> otio.schema.Clip:
    """Sound alone is counted in milliseconds: it has no frames."""
    rate = Fraction(one.facts.rate) if one.facts.rate else Fraction(1000)
    begins = (frame_number(one.facts.timecode, round(rate)) or 0) if one.facts.rate else 0
    whole = otio.opentime.TimeRange(
        otio.opentime.RationalTime(begins, float(rate)), otio.opentime.RationalTime(round(seconds * rate), float(rate))
    )
    media = otio.schema.ExternalReference(quote(one.path.encode("utf-8", "surrogateescape")), whole)
    return otio.schema.Clip(one.name, media, whole, metadata={"checksum": one.checksum} if one.checksum else {})
