"""Copies of recordings to work with: easier to edit, or light; and whether what was made is the same recording.

They are never counted as copies of anything. Made by ffmpeg, in a process of its own, bound in time and memory.
"""

import json
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from pathlib import Path
from typing import Any, NamedTuple

from ..cards.media import MediaFacts
from ..cards.media.strangers import only_itself
from ..pictures import CannotBeShown, bounds, decode

_SECONDS = 24 * 3600
_PROBE_S = 3600
_SHORT_S = 0.05
"""Containers round how long something lasts."""


class Codec(StrEnum):
    """What the pictures of a working copy are. The first ones are cut, the last one is looked at and sent."""

    PRORES_PROXY = "prores_proxy"
    PRORES = "prores"
    DNXHR_LB = "dnxhr_lb"
    DNXHR_SQ = "dnxhr_sq"
    H264 = "h264"


_PICTURES = {
    Codec.PRORES_PROXY: ("-c:v", "prores_aw", "-profile:v", "0", "-pix_fmt", "yuv422p10le"),
    Codec.PRORES: ("-c:v", "prores_aw", "-profile:v", "2", "-pix_fmt", "yuv422p10le"),
    Codec.DNXHR_LB: ("-c:v", "dnxhd", "-profile:v", "dnxhr_lb", "-pix_fmt", "yuv422p"),
    Codec.DNXHR_SQ: ("-c:v", "dnxhd", "-profile:v", "dnxhr_sq", "-pix_fmt", "yuv422p"),
    Codec.H264: ("-c:v", "libx264", "-preset", "veryfast", "-crf", "23", "-pix_fmt", "yuv420p", "-g", "25"),
}
HEIGHTS = (0, 540, 720, 1080)
"""Of pictures, in lines; 0: as recorded. None is made larger than it was recorded."""


@dataclass(frozen=True)
class Recipe:
    """How working copies are made. height: see HEIGHTS. burn_in: the clip's name and its timecode stand in the picture

    The frame rate stays, and so do all sound tracks: as they are (PCM) for cutting, AAC in the light one.
    """

    codec: Codec
    height: int = 0
    burn_in: bool = False

    @property
    def name(self) -> str:
        """As folders are called after it.

        >>> Recipe(Codec.DNXHR_LB, 540, True).name, Recipe(Codec.H264).name
        ('dnxhr_lb_540_burnt_in', 'h264')
        """
        return f"{self.codec.value}{f'_{self.height}' if self.height else ''}{'_burnt_in' if self.burn_in else ''}"

    @property
    def ending(self) -> str:
        """
        >>> Recipe(Codec.H264).ending, Recipe(Codec.DNXHR_LB).ending
        ('mp4', 'mov')
        """
        return "mp4" if self.codec is Codec.H264 else "mov"


def make_working_copy(
    descriptor: int, facts: MediaFacts, recipe: Recipe, name: str, made: int, *, font: Path, most: int,
    on_second: Callable[[float], None], has_to_wait: Callable[[], bool],
) -> None:  # fmt: skip
    """Write a working copy of an open recording into another open file.

    facts: of its header. name: what is burnt in. most: bytes that it may have
    on_second: told now and then, how many seconds of it are done
    has_to_wait: asked every second or so; then this raises bounds.GaveWay. Raises CannotBeShown.
    """
    asks, said = bounds.asking(has_to_wait), bytearray()

    def heard(piece: bytes) -> None:
        said.extend(piece)
        if done := _DONE.findall(said):
            on_second(int(done[-1]) / 1e6)
            del said[: said.rfind(b"\n")]
        asks()

    clock = _clock(descriptor, facts)
    words = [*_BEGIN, *only_itself(descriptor), *_words(clock, recipe, name, font), "-y", f"/dev/fd/{made}"]
    bounds.stream(words, descriptor, _SECONDS, heard, writes=made, most=most)


_BEGIN = ("ffmpeg", "-v", "error", "-nostdin", "-threads", "2", "-progress", "pipe:1")
_DONE = re.compile(rb"out_time_us=(\d+)")


class _Clock(NamedTuple):
    """How a recording counts. start: the timecode of its first frame, or empty. rate: frames a second, as a fraction"""

    start: str
    rate: str


def _clock(descriptor: int, facts: MediaFacts) -> _Clock:
    """As its header says; of one whose header was not read by us, as ffprobe reads it."""
    if facts.timecode and facts.rate:
        return _Clock(facts.timecode, facts.rate)
    shown = "stream=codec_type,avg_frame_rate,duration:stream_tags=timecode:format_tags=timecode"
    words = ["ffprobe", "-v", "error", "-show_entries", shown, "-of", "json", *only_itself(descriptor)]
    found = _parsed(bounds.run(words, descriptor, _PROBE_S), "")
    return _Clock(facts.timecode or found.timecode, facts.rate or str(found.rate))


def _words(clock: _Clock, recipe: Recipe, name: str, font: Path) -> list[str]:
    light = recipe.codec is Codec.H264
    filters = [f"scale=-2:'min({recipe.height},ih)':flags=area"] if recipe.height else []
    if light and not recipe.height:
        filters.append("scale='trunc(iw/2)*2':'trunc(ih/2)*2'")
    if recipe.burn_in:
        filters += _burnt_in(clock, name, font)
    return [
        "-map", "0:v:0", "-map", "0:a?", "-sn", "-dn", *(["-vf", ",".join(filters)] if filters else []),
        *_PICTURES[recipe.codec], "-fps_mode", "passthrough",
        *(("-c:a", "aac", "-b:a", "128k") if light else ("-c:a", "pcm_s24le")),
        *(["-timecode", clock.start] if clock.start else []),
        "-map_metadata", "-1", "-threads", "2", "-movflags", "+faststart", "-f", recipe.ending,
    ]  # fmt: skip


_LOOK = "fontsize=h/20:fontcolor=white:box=1:boxcolor=black@0.7:boxborderw=4:y=h-th-h/40"


def _burnt_in(clock: _Clock, name: str, font: Path) -> list[str]:
    """Two lines at the foot: what cannot stand in a filter's words is left out of a name, and nothing is expanded."""
    plain = "".join(sign if sign.isalnum() or sign in " ._()-+" else "_" for sign in name)[:80]
    start = (clock.start or "00:00:00:00").replace(":", r"\:").replace(";", r"\;")
    look = (
        f"fontfile={_said(str(font))}:fontsize=h/20:fontcolor=white:box=1:boxcolor=black@0.7:boxborderw=4:y=h-th-h/40"
    )
    return [
        f"drawtext={look}:expansion=none:text='{plain}':x=h/40",
        f"drawtext={look}:timecode='{start}':rate={clock.rate}:x=w-tw-h/40",
    ]


def _said(text: str) -> str:
    return re.sub(r"([\\':,;\[\]])", r"\\\\\1", text)


@dataclass(frozen=True)
class Tracks:
    """What a recording has. frames: packets of its pictures. channels: of each sound track. timecode: or empty"""

    frames: int
    duration_s: float
    rate: Fraction
    channels: tuple[int, ...]
    timecode: str


def tracks(descriptor: int, *, decoded: bool = False) -> Tracks:
    """Of an open recording, by ffprobe, which reads all of it. decoded: frames are counted as they are decoded

    Raises CannotBeShown.
    """
    count, counted = ("-count_frames", "nb_read_frames") if decoded else ("-count_packets", "nb_read_packets")
    shown = f"stream=codec_type,{counted},duration,avg_frame_rate,channels:stream_tags=timecode"
    words = ["ffprobe", "-v", "error", count, "-show_entries", f"{shown}:format=duration:format_tags=timecode"]
    told = bounds.run([*words, "-of", "json", *only_itself(descriptor)], descriptor, _PROBE_S)
    return _parsed(told, counted)


def _parsed(told: bytes, counted: str) -> Tracks:
    """Raises CannotBeShown."""
    try:
        return _tracks(json.loads(told), counted)
    except (ValueError, ZeroDivisionError, StopIteration) as error:
        raise CannotBeShown("what it says of its tracks makes no sense") from error


def _tracks(said: dict[str, Any], counted: str) -> Tracks:
    streams: Sequence[dict[str, Any]] = said.get("streams", [])
    pictures = next(one for one in streams if one.get("codec_type") == "video")
    whole = said.get("format", {})
    tags = [one.get("tags", {}).get("timecode", "") for one in (*streams, whole)]
    return Tracks(
        frames=int(pictures.get(counted, 0)),
        duration_s=float(pictures.get("duration") or whole.get("duration") or 0),
        rate=Fraction(pictures.get("avg_frame_rate") or "0/1"),
        channels=tuple(int(one.get("channels", 0)) for one in streams if one.get("codec_type") == "audio"),
        timecode=next(filter(None, tags), ""),
    )


def why_not_the_same(source: int, made: int, facts: MediaFacts, has_to_wait: Callable[[], bool]) -> str:
    """Why what was made is not the same recording, as a clause; empty where it is, frame for frame, and decodes.

    has_to_wait: as above. Raises CannotBeShown, bounds.GaveWay.
    """
    one, other = tracks(source), tracks(made)
    if one.frames != other.frames:  # two fields of a picture may come one by one
        one = tracks(source, decoded=True)
    if differ := _how_they_differ(one, other, one.timecode or facts.timecode):
        return differ
    found = decode(made, other.duration_s, has_to_wait=has_to_wait)
    return "" if found.sound else f"it does not decode: {found.note or found.breaks[0].said}"


def _how_they_differ(one: Tracks, other: Tracks, start: str) -> str:
    """one: of the recording, which begins at this timecode, if it has any. other: of what was made"""
    if one.frames != other.frames:
        return f"it has {other.frames:,} frames, and the recording {one.frames:,}"
    if abs(one.duration_s - other.duration_s) > max(_SHORT_S, float(1.5 / other.rate) if other.rate else 0):
        return f"it lasts {other.duration_s:.2f} s, and the recording {one.duration_s:.2f} s"
    if one.channels != other.channels:
        return f"its sound has {_in_words(other.channels)}, and the recording's {_in_words(one.channels)}"
    if start and _plain(start) != _plain(other.timecode):
        return f"its timecode begins at {other.timecode or 'nothing'}, and the recording's at {start}"
    return ""


def _in_words(channels: Sequence[int]) -> str:
    return f"tracks of {', '.join(map(str, channels))} channels" if channels else "no track"


def _plain(timecode: str) -> str:
    return re.sub(r"\D", "", timecode)
