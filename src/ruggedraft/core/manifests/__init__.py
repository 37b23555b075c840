"""Checksum lists that anybody can check without us."""

from .checksum_list import ListedSum, format_list, list_algorithm, parse_list
from .keeping import Kept, keep_file, keep_list
from .on_card import recorded_checksums
from .verify import ListFinding, ListReport, verify_list

__all__ = [
    "Kept",
    "ListFinding",
    "ListReport",
    "ListedSum",
    "format_list",
    "keep_file",
    "keep_list",
    "list_algorithm",
    "parse_list",
    "recorded_checksums",
    "verify_list",
]
