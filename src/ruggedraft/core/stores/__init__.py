"""Places that copies are kept in, behind one small port."""

from .local import LocalStore
from .memory import MemoryStore
from .port import Found, PendingFile, Room, Store, StoreKind
from .writing import write_one

__all__ = ["Found", "LocalStore", "MemoryStore", "PendingFile", "Room", "Store", "StoreKind", "write_one"]
