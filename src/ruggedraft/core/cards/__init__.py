"""What is on a card: reading it, listing it, recognising its layout, its clips, and what we hold of them."""

from .clips import Clip, ClipKind, Part, Role
from .clocks import Ground
from .companions import Companion, Recording, companion_of
from .describe import CardDescription, Contents, contents, describe, read_indexes, recognise
from .findings import Finding, FindingKind
from .fingerprint import EndsKept, fingerprint_whole, read_fingerprint
from .holding import Held, Holding, Known, hold, shifted_by
from .identity import Answer, KnownCard, Seen, who_is
from .inner import card_above, levels_inside
from .layouts import LAYOUTS, Layout
from .ledger_path import from_ledger, to_ledger
from .listing import Entry, EntryKind, Listing, list_card
from .source import CardSource, FolderSource, MemorySource, OpenFile

__all__ = [
    "LAYOUTS",
    "Answer",
    "CardDescription",
    "CardSource",
    "Clip",
    "ClipKind",
    "Companion",
    "Contents",
    "EndsKept",
    "Entry",
    "EntryKind",
    "Finding",
    "FindingKind",
    "FolderSource",
    "Ground",
    "Held",
    "Holding",
    "Known",
    "KnownCard",
    "Layout",
    "Listing",
    "MemorySource",
    "OpenFile",
    "Part",
    "Recording",
    "Role",
    "Seen",
    "card_above",
    "companion_of",
    "contents",
    "describe",
    "fingerprint_whole",
    "from_ledger",
    "hold",
    "levels_inside",
    "list_card",
    "read_fingerprint",
    "read_indexes",
    "recognise",
    "shifted_by",
    "to_ledger",
    "who_is",
]
