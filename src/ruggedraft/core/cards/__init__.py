"""What is on a card: reading it, listing it, recognising its layout."""

from .layouts import LAYOUTS, Layout, recognise
from .ledger_path import from_ledger, to_ledger
from .listing import Entry, EntryKind, Listing, list_card
from .source import CardSource, FolderSource, MemorySource, OpenFile

__all__ = [
    "LAYOUTS",
    "CardSource",
    "Entry",
    "EntryKind",
    "FolderSource",
    "Layout",
    "Listing",
    "MemorySource",
    "OpenFile",
    "from_ledger",
    "list_card",
    "recognise",
    "to_ledger",
]
