"""Two trees side by side: what is identical, missing, different, extra, moved; in as many rows as there are."""

from .compare import Comparison, Difference, Kind, Reader, Tally, compare, may_be_compared
from .spool import Spool

__all__ = ["Comparison", "Difference", "Kind", "Reader", "Spool", "Tally", "compare", "may_be_compared"]
