"""Read once, write to every store, read back."""

from .engine import Target, transfer
from .progress import Progress, StoreProgress
from .report import FileFailure, FileRead, StoreResult, TransferReport

__all__ = [
    "FileFailure",
    "FileRead",
    "Progress",
    "StoreProgress",
    "StoreResult",
    "Target",
    "TransferReport",
    "transfer",
]
