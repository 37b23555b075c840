"""MXF and transport streams through the ffmpeg libraries, in a process of its own with bounds on time and memory."""

import json
import subprocess
from datetime import datetime
from fractions import Fraction
from typing import Any

from .facts import MediaFacts
from .kinds import MediaKind
from .window import HeaderUnreadable

_SECONDS, _MEMORY = 6, 1 << 30
_WORDS = ("-v", "error", "-of", "json", "-show_format", "-show_streams", "-probesize", "4M", "-analyzeduration", "2M")


def read_probed(descriptor: int) -> MediaFacts:
    """Facts of an open file. Raises HeaderUnreadable. Read through its descriptor: no path is followed."""
    bounds = ["prlimit", f"--as={_MEMORY}", f"--cpu={_SECONDS}"]
    command = [*bounds, "ffprobe", *_WORDS, f"/dev/fd/{descriptor}"]
    try:
        done = subprocess.run(command, capture_output=True, timeout=_SECONDS, pass_fds=[descriptor], check=True)
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
    picture = next((s for s in streams if s.get("codec_type") == "video"), None)
    sound = next((s for s in streams if s.get("codec_type") == "audio"), None)
    if picture is None and sound is None:
        raise HeaderUnreadable("there is neither picture nor sound in it")
    whole = told.get("format", {})
    tags = {**whole.get("tags", {}), **{k: v for s in streams for k, v in s.get("tags", {}).items() if k == "timecode"}}
    shown = picture or sound
    return MediaFacts(
        MediaKind.VIDEO if picture else MediaKind.SOUND,
        body=" ".join(tags[name] for name in ("company_name", "product_name") if tags.get(name, "FFmpeg") != "FFmpeg"),
        clock=_clock(tags.get("creation_time") or tags.get("modification_date")),
        duration_s=float(whole["duration"]) if "duration" in whole else None,
        width=(picture or {}).get("width", 0),
        height=(picture or {}).get("height", 0),
        rate=_rate((picture or {}).get("avg_frame_rate", "")),
        codec=str(shown.get("codec_name", "")) if shown else "",
        timecode=str(tags.get("timecode", "")),
        channels=sum(int(s.get("channels", 0)) for s in streams if s.get("codec_type") == "audio"),
        sample_rate=int((sound or {}).get("sample_rate", 0)),
    )


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
