"""How far a run is, as numbers that threads add to and anybody may look at."""

from dataclasses import dataclass, field

READER = "the reader"


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
    """Bytes of a whole run. `total` is what there is to read; each store must verify as much.

    readings: how often the card is read. read_again: bytes of the second reading, where one was asked for
    waiting_s: seconds the reader waited for stores, by their names
    """

    total: int
    files_total: int
    read: int = 0
    readings: int = 1
    read_again: int = 0
    stores: list[StoreProgress] = field(default_factory=list)
    waiting_s: dict[str, float] = field(default_factory=dict)
