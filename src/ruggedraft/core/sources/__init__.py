"""Where a card's bytes come from: a port, a mounted folder, memory; what is listed there and how it is recognised."""

from .comparing import same_bytes
from .fingerprint import EndsKept, FingerprintKind, fingerprint_whole, read_fingerprint
from .folder import FolderSource
from .listing import Entry, EntryKind, Listing, list_card
from .memory import MemorySource
from .packed import Entries, Places
from .paths import from_ledger, to_ledger
from .port import CardSource, OpenFile, RemovableSource

__all__ = [
    "CardSource",
    "EndsKept",
    "Entries",
    "Entry",
    "EntryKind",
    "FingerprintKind",
    "FolderSource",
    "Listing",
    "MemorySource",
    "OpenFile",
    "Places",
    "RemovableSource",
    "fingerprint_whole",
    "from_ledger",
    "list_card",
    "read_fingerprint",
    "same_bytes",
    "to_ledger",
]
