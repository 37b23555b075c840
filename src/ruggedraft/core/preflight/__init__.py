"""Better to refuse now than fail at 80 %: does it fit, and would it satisfy the rule?"""

from collections.abc import Sequence
from dataclasses import dataclass

from ..redundancy import Rule, StoreFacts, device_groups

_FILE_OVERHEAD = 4096  # bytes: a file takes whole blocks; 4 KiB is the usual block of the file systems in use


@dataclass(frozen=True)
class Demand:
    """What one store would have to take: bytes and number of files missing there, and what must stay free."""

    store: StoreFacts
    bytes: int
    files: int
    reserve: int = 0

    @property
    def needed(self) -> int:
        """Bytes of room, counting the blocks that small files round up to."""
        return self.bytes + self.files * _FILE_OVERHEAD + self.reserve if self.files else 0


@dataclass(frozen=True)
class Refusal:
    """A reason not to start. `short` is how many bytes are lacking, where that is the reason."""

    kind: str
    sentence: str
    store: str | None = None
    short: int = 0


def preflight(demands: Sequence[Demand]) -> list[Refusal]:
    """Every reason against starting; an empty list means go."""
    refusals = [refusal for demand in demands for refusal in _store_refusals(demand)]
    if not any(demand.store.counts or demand.store.landing for demand in demands):
        refusals.append(Refusal("copies", "None of these stores counts, so nothing would be safe: add one that does."))
    return refusals


def falls_short(demands: Sequence[Demand], rule: Rule) -> list[Refusal]:
    """What the rule will still ask for when all these stores hold it. A first copy to one drive alone may be made.

    Nothing is said where there is neither a store that counts nor a landing area: that is refused.
    """
    counting = [demand.store for demand in demands if demand.store.counts]
    if not counting and any(demand.store.landing for demand in demands):
        return [
            Refusal("copies", "A landing area alone, which never counts: the card is not clear before others hold it.")
        ]
    parts = (
        ("copies", len(counting), rule.copies, "stores that count"),
        ("devices", len(device_groups(counting)), rule.devices, "separate devices"),
        ("locations", len({store.location for store in counting}), min(rule.locations, 1), "locations"),
    )
    return [
        Refusal(kind, _short_sentence(kind, have, need, words))
        for kind, have, need, words in parts
        if counting and have < need
    ]


def _short_sentence(kind: str, have: int, need: int, words: str) -> str:
    if kind == "copies" and have == 1:
        return f"A first copy, on one store alone: the rule asks for {need}, and the card is not clear before."
    return f"These stores are {have} of the {need} {words} the rule asks for: it goes on asking for more."


def _store_refusals(demand: Demand) -> list[Refusal]:
    store = demand.store
    if store.retired:
        return [Refusal("retired", f"'{store.name}' is out of service: use another store.", store.name)]
    if store.lost:
        return [Refusal("lost", f"'{store.name}' was reported lost: use another store.", store.name)]
    if not store.online:
        return [Refusal("offline", f"'{store.name}' is not connected: connect it, or use another.", store.name)]
    short = demand.needed - store.free
    if short > 0:
        sentence = (
            f"'{store.name}' is {gigabytes(short)} too small: it has {gigabytes(store.free)} free and "
            f"{gigabytes(demand.needed)} are needed there. Make room, or use another store."
        )
        return [Refusal("room", sentence, store.name, short)]
    return []


def _three_digits(value: float) -> str:
    return f"{value:.{0 if value >= 99.95 else 1 if value >= 9.995 else 2}f}"


def gigabytes(count: int) -> str:
    """Decimal units, as drive makers count.

    >>> gigabytes(2_345_678_901), gigabytes(12_300_000), gigabytes(4_100)
    ('2.35 GB', '12.3 MB', '4.10 kB')
    """
    for unit, size in (("TB", 10**12), ("GB", 10**9), ("MB", 10**6), ("kB", 10**3)):
        if count >= 0.9995 * size:
            return f"{_three_digits(count / size)} {unit}"
    return f"{count} B"
