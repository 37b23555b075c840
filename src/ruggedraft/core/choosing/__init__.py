"""What people say of single clips, and which ones are worth opening. No verdict on copies rests on it."""

from .marks import IN_WORDS, TROUBLE, MarkKind, excludes, is_contested
from .settling import Choice, ClipSaid, of_no_kept_clip, settled
from .spots import ClipToOpen, Why, spot_check

__all__ = [
    "IN_WORDS", "TROUBLE", "Choice", "ClipSaid", "ClipToOpen", "MarkKind", "Why", "excludes", "is_contested",
    "of_no_kept_clip", "settled", "spot_check",
]  # fmt: skip
