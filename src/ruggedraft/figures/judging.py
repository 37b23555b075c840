"""How long the judge takes, on facts in memory alone."""

from collections.abc import Callable
from datetime import UTC, datetime, timedelta

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.redundancy import CopyFacts, RollFacts, Rule, StoreFacts, judge_roll, loss_to

from .measuring import in_turns, table

_NOW = datetime(2026, 5, 14, 12, tzinfo=UTC)
_ROLLS, _LOST_AMONG, _COPIES = 10_000, 2_000, 4
_RULE = Rule(copies=3, devices=3, offsite=1)


def judging() -> str:
    """Judge rolls with four copies each, and ask what a lost device would do to them."""
    rolls = [_roll(n) for n in range(_ROLLS)]
    acts: dict[str, Callable[[], object]] = {
        f"{_ROLLS:,} rolls with {_COPIES} copies judged": lambda: [judge_roll(roll, _RULE, _NOW) for roll in rolls],
        f"what a lost device does to {_LOST_AMONG:,} rolls": lambda: [
            loss_to(roll, lambda store: store.name == "store 1", _RULE, _NOW) for roll in rolls[:_LOST_AMONG]
        ],
    }
    took = in_turns(acts)
    aims = ("300 ms", "500 ms")
    rows = [(what, f"{1000 * took[what]:.0f} ms", aim) for what, aim in zip(acts, aims, strict=True)]
    rows.append(("one of them", f"{1000 * took[next(iter(acts))] / _ROLLS:.3f} ms", "0.1 ms"))
    return f"### The judge alone\n\n{table(('what', 'median', 'aim'), rows)}"


def _roll(n: int) -> RollFacts:
    copies = tuple(_copy(n, place) for place in range(_COPIES))
    return RollFacts(f"A{n}", frozenset(), copies, files=500, bytes=10**9, looked_at=1.0)


def _copy(n: int, place: int) -> CopyFacts:
    """On one of a dozen stores; now and then one that is broken, or weak."""
    number = (n + 5 * place) % 12
    store = StoreFacts(
        f"store {number}", frozenset({f"device {number % 10}"}), f"place {number % 3}", "ssd", offsite=number % 3 == 0
    )
    read = _NOW - timedelta(days=n % 90)
    missing = int(n % 17 == place)
    proven = Evidence.WRITTEN if n % 13 == place else Evidence.READ_BACK
    at = tuple(read if level <= proven else None for level in Evidence)
    return CopyFacts(store, at, 500 - missing, 10**9, missing, missing)
