"""What is on a card: reading it, listing it, recognising its layout, its clips, and what we hold of them."""

from .clips import RECORDINGS, Clip, ClipFile, ClipKind, FileRole
from .clocks import CameraClock, Circumstances, ClockSpan
from .companions import Companion, Recording, companion_of
from .describe import CardDescription, Contents, contents, describe, read_indexes, recognise
from .findings import Finding, FindingKind
from .health import CardRun, doubts
from .holding import Held, Holding, Known, hold, shifted_by
from .identity import Answer, KnownCard, Seen, who_is
from .inner import card_above, levels_inside
from .layouts import LAYOUTS, Layout

__all__ = [
    "LAYOUTS",
    "RECORDINGS",
    "Answer",
    "CameraClock",
    "CardDescription",
    "CardRun",
    "Circumstances",
    "Clip",
    "ClipFile",
    "ClipKind",
    "ClockSpan",
    "Companion",
    "Contents",
    "FileRole",
    "Finding",
    "FindingKind",
    "Held",
    "Holding",
    "Known",
    "KnownCard",
    "Layout",
    "Recording",
    "Seen",
    "card_above",
    "companion_of",
    "contents",
    "describe",
    "doubts",
    "hold",
    "levels_inside",
    "read_indexes",
    "recognise",
    "shifted_by",
    "who_is",
]
