"""Clips on the clock, for paper: a row per camera. Solid is safe, outlined is not yet, split is below the line."""

from collections.abc import Sequence
from datetime import datetime, tzinfo

from ruggedraft.core.accounts import DayRoll
from ruggedraft.core.redundancy import RollState

from .paper import said

_NAME, _WIDTH, _ROW, _HEAD = 14.0, 168.0, 7.0, 6.0
"""Millimetres."""
_NARROWEST = 0.6
_STEPS = (60, 300, 900, 1800, 3600, 7200, 14400, 43200, 86400)
_MOST_TICKS = 12


def ribbon_svg(rolls: Sequence[DayRoll], zone: tzinfo) -> str:
    """As SVG; empty where no clip has a time."""
    bars = [bar for roll in rolls for bar in roll.bars]
    if not bars:
        return ""
    begin, end = min(bar.start for bar in bars), max(bar.start + bar.length for bar in bars)
    scale = _WIDTH / max(60.0, end - begin)
    cameras = _by_camera(rolls)
    high = _HEAD + _ROW * len(cameras)
    rows = (_row(name, _HEAD + n * _ROW, mine, begin, scale) for n, (name, mine) in enumerate(cameras.items()))
    box = f"0 0 {_NAME + _WIDTH + 1} {high + 1}"
    drawn = "".join((_ticks(begin, end, scale, high, zone), *rows))
    return f"<svg class='ribbon' viewBox='{box}' font-family='Sofia Sans Condensed'>{drawn}</svg>"


def _by_camera(rolls: Sequence[DayRoll]) -> dict[str, list[DayRoll]]:
    """Those with anything to draw, cameras in the order of their letters."""
    found: dict[str, list[DayRoll]] = {}
    for roll in sorted(rolls, key=lambda one: one.camera):
        if roll.bars:
            found.setdefault(roll.camera, []).append(roll)
    return found


def _row(camera: str, top: float, rolls: Sequence[DayRoll], begin: float, scale: float) -> str:
    name = f"<text x='0' y='{top + 4.6:.2f}' font-weight='700' font-size='4.5'>{said(camera)}</text>"
    return name + "".join(
        _bar(_NAME + (bar.start - begin) * scale, top + 1, max(_NARROWEST, bar.length * scale), roll.state)
        for roll in rolls
        for bar in roll.bars
    )


def _bar(x: float, y: float, width: float, state: RollState) -> str:
    if state is RollState.SAFE:
        return f"<rect x='{x:.2f}' y='{y:.2f}' width='{width:.2f}' height='4.5'/>"
    if state is RollState.SHORT:
        return (
            f"<rect x='{x:.2f}' y='{y:.2f}' width='{width:.2f}' height='4.5' fill='#fff' stroke='#000'"
            f" stroke-width='0.3'/>"
        )
    return "".join(f"<rect x='{x:.2f}' y='{y + off:.2f}' width='{width:.2f}' height='1.6'/>" for off in (0, 2.9))


def _ticks(begin: float, end: float, scale: float, high: float, zone: tzinfo) -> str:
    step = next((one for one in _STEPS if (end - begin) / one <= _MOST_TICKS), _STEPS[-1] * 7)
    first = int(begin // step + 1) * step
    drawn = []
    for at in range(first, int(end) + 1, step):
        x = _NAME + (at - begin) * scale
        drawn.append(
            f"<path d='M{x:.2f} {_HEAD}V{high}' stroke='#999' stroke-width='0.15'/><text x='{x:.2f}' y='4'"
            f" font-size='3.2' text-anchor='middle'>{datetime.fromtimestamp(at, zone):%H:%M}</text>"
        )
    return "".join(drawn)
