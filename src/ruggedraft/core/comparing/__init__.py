"""Two trees side by side: what is identical, missing, different, extra, moved; in as many rows as there are."""

from .compare import Comparison, Difference, Kind, Reader, Tally, compare, may_be_compared
from .contents import Contents, of_two_stores, of_what_is_known
from .spool import Spool

__all__ = [
    "Comparison",
    "Contents",
    "Difference",
    "Kind",
    "Reader",
    "Spool",
    "Tally",
    "compare",
    "may_be_compared",
    "of_two_stores",
    "of_what_is_known",
]
