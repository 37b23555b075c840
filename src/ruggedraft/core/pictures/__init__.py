"""Pictures for looking at, made of what copies hold. No verdict rests on them."""

from .bounds import GaveWay
from .decoding import Break, Decoded, decode
from .kinds import LONGEST, STRIP_OF, CannotBeShown, Made, PictureKind
from .light import light_copy
from .making import make_pictures
from .pixels import Place, pixels
from .sound import Wave
from .stills import StillMaker, carried

__all__ = [
    "LONGEST", "STRIP_OF", "Break", "CannotBeShown", "Decoded", "GaveWay", "Made", "PictureKind", "Place", "StillMaker",
    "Wave", "carried", "decode", "light_copy", "make_pictures", "pixels",
]  # fmt: skip
