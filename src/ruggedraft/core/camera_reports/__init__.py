"""Camera reports: what the camera crew wrote of each take, held against what the rolls hold."""

from .columns import Columns, ColumnUse, ReportLine, lines_of, proposed_columns
from .matching import Matched, Mismatch, MismatchKind, RollClips, matched, rolls_named

__all__ = [
    "ColumnUse",
    "Columns",
    "Matched",
    "Mismatch",
    "MismatchKind",
    "ReportLine",
    "RollClips",
    "lines_of",
    "matched",
    "proposed_columns",
    "rolls_named",
]
