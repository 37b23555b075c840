"""MXF and transport streams through the ffmpeg libraries, in a process of its own with bounds on time and memory."""

import json
import subprocess
from datetime import datetime
from fractions import Fraction
from typing import Any

from .facts import MediaFacts
from .kinds import MediaKind
from .strangers import bare, only_itself
from .window import HeaderUnreadable

_SECONDS, _MEMORY = 6, 1 << 30
_WORDS = ("-v", "error", "-of", "json", "-show_format", "-show_streams", "-probesize", "4M", "-analyzeduration", "2M")


def read_probed(descriptor: int) -> MediaFacts:
    """Facts of an open file. Raises HeaderUnreadable. Read through its descriptor: no path is followed."""
    bounds = ["prlimit", f"--as={_MEMORY}", f"--cpu={_SECONDS}"]
    command = [*bounds, "ffprobe", *_WORDS, *only_itself(descriptor)]
    try:
        done = subprocess.run(
            command, capture_output=True, timeout=_SECONDS, pass_fds=[descriptor], check=True, env=bare()
        )
        told = json.loads(done.stdout)
    except FileNotFoundError as error:
        raise HeaderUnreadable("its header was not read: ffprobe is not installed here") from error
    except subprocess.TimeoutExpired as error:
        raise HeaderUnreadable("its header leads on and on; reading it was cut off") from error
    except (subprocess.CalledProcessError, ValueError) as error:
        raise HeaderUnreadable("its header cannot be read") from error
    return _facts(told)


def _facts(told: dict[str, Any]) -> MediaFacts:
    streams = told.get("streams", [])
    pictures, sounds = _of_kind(streams, "video"), _of_kind(streams, "audio")
    if not pictures and not sounds:
        raise HeaderUnreadable("there is neither picture nor sound in it")
    whole = told.get("format", {})
    tags = _tags(whole, streams)
    picture: dict[str, Any] = next(iter(pictures), {})
    sound: dict[str, Any] = next(iter(sounds), {})
    return MediaFacts(
        MediaKind.VIDEO if pictures else MediaKind.SOUND,
        body=_body(tags),
        clock=_clock(tags.get("creation_time") or tags.get("modification_date")),
        duration_s=float(whole["duration"]) if "duration" in whole else None,
        width=picture.get("width", 0),
        height=picture.get("height", 0),
        rate=_rate(picture.get("avg_frame_rate", "")),
        codec=str((picture or sound).get("codec_name", "")),
        timecode=str(tags.get("timecode", "")),
        channels=sum(int(one.get("channels", 0)) for one in sounds),
        sample_rate=int(sound.get("sample_rate", 0)),
    )


def _of_kind(streams: list[dict[str, Any]], kind: str) -> list[dict[str, Any]]:
    return [one for one in streams if one.get("codec_type") == kind]


def _body(tags: dict[str, Any]) -> str:
    """The camera that wrote it; the muxer's own name is none."""
    return " ".join(tags[name] for name in ("company_name", "product_name") if tags.get(name, "FFmpeg") != "FFmpeg")


def _tags(whole: dict[str, Any], streams: list[dict[str, Any]]) -> dict[str, Any]:
    """Those of the file, and timecodes of its streams."""
    tags = dict(whole.get("tags", {}))
    for one in streams:
        if "timecode" in one.get("tags", {}):
            tags["timecode"] = one["tags"]["timecode"]
    return tags


def _clock(text: str | None) -> datetime | None:
    try:
        clock = datetime.fromisoformat(text) if text else None
    except ValueError:
        return None
    return None if clock is None or clock.year < 1971 else clock


def _rate(text: str) -> str:
    try:
        rate = Fraction(text)
    except (ValueError, ZeroDivisionError):
        return ""
    return f"{rate.numerator}/{rate.denominator}" if rate else ""
