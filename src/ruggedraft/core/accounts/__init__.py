"""What a shoot day came to: its account, what came later than it was frozen, and how days compare."""

from .day import (
    DayAccount,
    DayBar,
    DayCamera,
    DayClearance,
    DayCopy,
    DayFigures,
    DayNote,
    DayOpen,
    DayRoll,
    DayRun,
    DayTrouble,
    Material,
    added,
    by_camera,
)
from .later import marked_later

__all__ = [
    "DayAccount",
    "DayBar",
    "DayCamera",
    "DayClearance",
    "DayCopy",
    "DayFigures",
    "DayNote",
    "DayOpen",
    "DayRoll",
    "DayRun",
    "DayTrouble",
    "Material",
    "added",
    "by_camera",
    "marked_later",
]
