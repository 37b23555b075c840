"""A light copy of a recording, for looking and listening: never counted as a copy of anything."""

import errno
import shutil
import tempfile
from collections.abc import Callable

from ..cards.media import MediaFacts, MediaKind
from ..cards.media.strangers import only_itself
from . import bounds
from .kinds import CannotBeShown
from .sound import tracks_of

_SECONDS = 3600
_MOST = 60 << 20
"""Bytes of one light copy: what is longer gets fewer for each second."""
_LARGEST = _MOST * 5 // 4
"""What a program may write: the sizes that it is told are aims."""
_FASTEST, _SLOWEST = 1_000_000, 120_000
"""Bits a second of its pictures."""
_SOUND_BITS = 96_000


def light_copy(descriptor: int, facts: MediaFacts, *, has_to_wait: Callable[[], bool] = lambda: False) -> bytes:
    """H.264 and AAC in MP4, its pictures at most 960 by 540 and as many a second; all of its sound as stereo.

    has_to_wait: asked every second or so, whether something else comes first; then this raises bounds.GaveWay.
    Raises CannotBeShown, and OSError where there is no room to make it.
    """
    with tempfile.TemporaryFile() as made:
        _require_room()
        asks = bounds.asking(has_to_wait)
        words = [*_BEGIN, *only_itself(descriptor), *_words(descriptor, facts), "-y", f"/dev/fd/{made.fileno()}"]
        try:
            bounds.stream(words, descriptor, _SECONDS, lambda _: asks(), writes=made.fileno(), most=_LARGEST)
        except CannotBeShown:
            _require_room()  # a full disk says nothing of the recording
            raise
        return made.read()


def _require_room() -> None:
    if shutil.disk_usage(tempfile.gettempdir()).free < _LARGEST:
        raise OSError(errno.ENOSPC, "no room for a light copy while it is made", tempfile.gettempdir())


_BEGIN = ("ffmpeg", "-v", "error", "-nostdin", "-threads", "1", "-progress", "pipe:1")


def _words(descriptor: int, facts: MediaFacts) -> list[str]:
    shown = facts.kind is MediaKind.VIDEO
    tracks = len(tracks_of(descriptor)) if facts.channels or not shown else 0
    if not shown and not tracks:
        raise CannotBeShown("it has no sound")
    fit = "scale='min(960,iw)':'min(540,ih)':force_original_aspect_ratio=decrease:force_divisible_by=2:flags=area"
    graph = [f"[0:v:0]{fit},setsar=1[pictures]"] if shown else []
    if tracks:
        graph.append("".join(f"[0:a:{n}]" for n in range(tracks)) + f"amix=inputs={tracks}:normalize=0[sound]")
    rate = _bits_a_second(facts.duration_s)
    pictures = [
        "-map", "[pictures]", "-c:v", "libx264", "-preset", "veryfast", "-crf", "27", "-maxrate", str(rate), "-bufsize",
        str(2 * rate), "-pix_fmt", "yuv420p", "-g", "25", "-fps_mode", "passthrough",
    ]  # fmt: skip
    sound = ["-map", "[sound]", "-c:a", "aac", "-ac", "2", "-b:a", str(_SOUND_BITS)]
    return [
        "-filter_complex", ";".join(graph), *(pictures if shown else ()), *(sound if tracks else ()), "-sn", "-dn",
        "-map_metadata", "-1", "-movflags", "+faststart", "-f", "mp4",
    ]  # fmt: skip


def _bits_a_second(duration_s: float | None) -> int:
    """Of pictures, so that all of it stays within its size; what does not say how long it is is taken for an hour.

    >>> _bits_a_second(60.0), _bits_a_second(1800.0)
    (1000000, 183620)
    """
    room = _MOST * 8 / max(1.0, duration_s or 3600.0) - _SOUND_BITS
    return int(min(_FASTEST, max(_SLOWEST, room)))
