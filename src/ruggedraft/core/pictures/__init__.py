"""Pictures for looking at, made of what copies hold. No verdict rests on them."""

from .decoding import Break, Decoded, GaveWay, decode
from .kinds import LONGEST, STRIP_OF, CannotBeShown, Made, PictureKind
from .making import make_pictures
from .sound import Wave
from .stills import StillMaker

__all__ = [
    "LONGEST", "STRIP_OF", "Break", "CannotBeShown", "Decoded", "GaveWay", "Made", "PictureKind", "StillMaker", "Wave",
    "decode", "make_pictures",
]  # fmt: skip
