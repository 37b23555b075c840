"""Frames of a recording, through the ffmpeg program."""

from collections.abc import Iterator

from ..cards.media.strangers import only_itself
from . import bounds
from .kinds import LONGEST, STRIP_OF, CannotBeShown, Made, PictureKind

_SECONDS = 30
_STRIP_HIGH = 120
"""Pixels."""
_QUIET = ("ffmpeg", "-v", "error", "-nostdin", "-threads", "1")
_AS_JPEG = ("-an", "-sn", "-dn", "-f", "mjpeg", "-q:v", "5", "-")


def show_moving(descriptor: int, duration_s: float | None) -> Made:
    """The first frame, small and large, and a strip. duration_s: as its header says, if it does"""
    pictures, note = dict[PictureKind, bytes](), ""
    for kind in (PictureKind.LARGE, PictureKind.SMALL, PictureKind.STRIP):
        try:
            pictures[kind] = (
                strip(descriptor, duration_s) if kind is PictureKind.STRIP else first_frame(descriptor, LONGEST[kind])
            )
        except CannotBeShown as problem:
            note = note or str(problem)
    return Made(pictures, note)


def first_frame(descriptor: int, longest: int) -> bytes:
    """As JPEG, turned as the file says it is to be shown. Never larger than it was recorded. Raises CannotBeShown."""
    fit = f"scale='min({longest},iw)':'min({longest},ih)':force_original_aspect_ratio=decrease:force_divisible_by=2"
    words = [*only_itself(descriptor), "-frames:v", "1", "-vf", f"{fit}:flags=area,setsar=1"]
    return bounds.run([*_QUIET, *words, *_AS_JPEG], descriptor, _SECONDS)


def strip(descriptor: int, duration_s: float | None) -> bytes:
    """Frames in equal steps, the first at the beginning, as one JPEG; each of about its moment.

    Raises CannotBeShown, also where a recording does not say how long it is.
    """
    if not duration_s or duration_s <= 0:
        raise CannotBeShown("it does not say how long it is")
    inputs = [word for at in _moments(duration_s) for word in ("-ss", f"{at:.3f}", *only_itself(descriptor))]
    size = f"scale=-2:{_STRIP_HIGH}:flags=area,setsar=1"
    each = "".join(f"[{n}:v]trim=end_frame=1,{size}[f{n}];" for n in range(STRIP_OF))
    beside = "".join(f"[f{n}]" for n in range(STRIP_OF))
    words = ["-filter_complex", f"{each}{beside}hstack=inputs={STRIP_OF}", "-frames:v", "1"]
    return bounds.run([*_QUIET, *inputs, *words, *_AS_JPEG], descriptor, _SECONDS)


def _moments(duration_s: float) -> Iterator[float]:
    """Seconds from its beginning.

    >>> [round(at, 1) for at in _moments(24.0)][:3]
    [0.0, 2.0, 4.0]
    """
    return (n * duration_s / STRIP_OF for n in range(STRIP_OF))
