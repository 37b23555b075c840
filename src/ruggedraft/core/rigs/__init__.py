"""Several cameras recording the same action: which clips are one shot, and which are odd."""

from .align import Alignment, Odd, OddKind, RigClip, Shot, align
from .arrange import arrange

__all__ = ["Alignment", "Odd", "OddKind", "RigClip", "Shot", "align", "arrange"]
