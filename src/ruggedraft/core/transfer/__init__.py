"""Read once, write to every store, read back."""

from .checking import CheckReport, ToCheck, check_copy
from .engine import Target, transfer
from .feeding import feed
from .of_each import Readings, Sums
from .pace import Now, Pace
from .progress import Progress, StoreProgress
from .remembering import Memory
from .report import FileFailure, FileRead, StoreResult, TransferReport

__all__ = [
    "CheckReport",
    "FileFailure",
    "FileRead",
    "Memory",
    "Now",
    "Pace",
    "Progress",
    "Readings",
    "StoreProgress",
    "StoreResult",
    "Sums",
    "Target",
    "ToCheck",
    "TransferReport",
    "check_copy",
    "feed",
    "transfer",
]
