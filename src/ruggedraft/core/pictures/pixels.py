"""A window on a recording, pixel for pixel: for judging how sharp it is."""

from dataclasses import dataclass
from fractions import Fraction

from ..cards.media import MediaFacts
from ..cards.media.kinds import MediaKind
from ..cards.media.strangers import only_itself
from . import bounds
from .kinds import WINDOW, CannotBeShown
from .stills import StillMaker, carried

_SECONDS = 30
_USUAL = Fraction(25)
"""Frames a second, where a header does not say."""


@dataclass(frozen=True)
class Place:
    """The middle of the window: x from the left edge (0) to the right (1), y from the top to the bottom.

    at_s: seconds from the beginning of a recording, within the frame that is meant
    """

    x: float
    y: float
    at_s: float = 0.0


def pixels(descriptor: int, path: str, facts: MediaFacts, place: Place) -> bytes:
    """PNG of at most WINDOW pixels of an open file, none of them made larger or smaller. Raises CannotBeShown.

    Of a RAW file: of the picture that it carries. The right way up, and in sRGB where that is known.
    """
    if facts.kind is MediaKind.VIDEO:
        return _of_frame(descriptor, facts, place)
    if facts.kind is not MediaKind.STILL:
        raise CannotBeShown("it has no pictures")
    with StillMaker() as stills:
        return stills.window(descriptor, place.x, place.y, *(carried(path, facts) or ()))


def _of_frame(descriptor: int, facts: MediaFacts, place: Place) -> bytes:
    begins = max(0.0, place.at_s - 1 / float(_rate(facts)))  # the first frame that begins after this
    wide, high = WINDOW
    size = f"w='min({wide},iw)':h='min({high},ih)'"
    corner = f"x='max(0,min(iw-ow,iw*{place.x:.6f}-ow/2))':y='max(0,min(ih-oh,ih*{place.y:.6f}-oh/2))'"
    before = ["-ss", f"{begins:.6f}"] if place.at_s else []
    words = ["ffmpeg", "-v", "error", "-nostdin", "-threads", "1", *before, *only_itself(descriptor)]
    shown = [
        "-frames:v",
        "1",
        "-vf",
        f"crop={size}:{corner}",
        "-an",
        "-sn",
        "-dn",
        "-f",
        "image2pipe",
        "-c:v",
        "png",
        "-",
    ]
    return bounds.run([*words, *shown], descriptor, _SECONDS)


def _rate(facts: MediaFacts) -> Fraction:
    """
    >>> _rate(MediaFacts(MediaKind.VIDEO, rate="30000/1001")), _rate(MediaFacts(MediaKind.VIDEO))
    (Fraction(30000, 1001), Fraction(25, 1))
    """
    try:
        return Fraction(facts.rate) or _USUAL
    except (ValueError, ZeroDivisionError):
        return _USUAL
