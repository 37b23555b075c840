"""Checksum lists that anybody can check without us."""

from .bagit import is_bag, tag_files, verify_bag
from .checksum_list import ListedSum, format_list, list_algorithm, parse_list
from .keeping import Kept, keep_file, keep_list
from .on_card import recorded_checksums
from .roll_record import RecordedFile, RollRecord, format_record, parse_record
from .verify import ListFinding, ListReport, verify_list

__all__ = [
    "Kept",
    "ListFinding",
    "ListReport",
    "ListedSum",
    "RecordedFile",
    "RollRecord",
    "format_list",
    "format_record",
    "is_bag",
    "keep_file",
    "keep_list",
    "list_algorithm",
    "parse_list",
    "parse_record",
    "recorded_checksums",
    "tag_files",
    "verify_bag",
    "verify_list",
]
