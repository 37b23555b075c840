"""Where labels lie on the sheets that are sold everywhere."""

from .sheets import SHEETS, LabelSheet, Spot, sheet_named, spots

__all__ = ["SHEETS", "LabelSheet", "Spot", "sheet_named", "spots"]
