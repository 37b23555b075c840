"""How far a run is, as numbers that threads add to and anybody may look at."""

from dataclasses import dataclass, field


@dataclass
class StoreProgress:
    """Bytes of one store: there (written, or found there), and read back and agreeing. `trouble`: the first failure."""

    name: str
    written: int = 0
    verified: int = 0
    files_verified: int = 0
    trouble: str = ""


@dataclass
class Progress:
    """Bytes of a whole run. `total` is what there is to read; each store must verify as much."""

    total: int
    files_total: int
    read: int = 0
    stores: list[StoreProgress] = field(default_factory=list)
