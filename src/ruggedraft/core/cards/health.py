"""What speaks against using a card again: errors while it was read, and reading that became slow."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from statistics import median

from ..wording import counted

_SLOW = 0.5
"""Below this share of what it gave before, a card has slowed down. From experience; no published value."""
_LATELY = 2
"""So many runs in a row have to be slow: one may have waited for a store."""
_BEFORE = 3
"""So many earlier runs it takes to know what is usual."""


@dataclass(frozen=True)
class CardRun:
    """One run that read a card. errors: files that did not read at once, or read differently a second time.

    rate: bytes a second; None where too little was read to tell
    """

    at: datetime
    errors: int
    rate: float | None


def doubts(runs: Sequence[CardRun]) -> tuple[str, ...]:
    """What the runs since somebody last answered for it say against a card, in sentences; earliest run first."""
    said = []
    failed = [run for run in runs if run.errors]
    if failed:
        files = counted(sum(run.errors for run in failed), "file")
        said.append(f"it gave read errors in {files} on {failed[-1].at:%Y-%m-%d}: take it out of use")
    if slow := _slowed(runs):
        now, before = slow
        said.append(
            f"it has become slow: {now / 1e6:,.0f} MB/s in its last {_LATELY} runs, {before / 1e6:,.0f} before: "
            "take it out of use"
        )
    return tuple(said)


def _slowed(runs: Sequence[CardRun]) -> tuple[float, float] | None:
    """The best of the last runs and what was usual before, in bytes a second, if that is far more; else None."""
    rates = [run.rate for run in runs if run.rate is not None]
    if len(rates) < _LATELY + _BEFORE:
        return None
    now, before = max(rates[-_LATELY:]), median(rates[:-_LATELY])
    return (now, before) if now < _SLOW * before else None
