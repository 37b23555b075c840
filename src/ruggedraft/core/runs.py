"""Runs: work that a station does and that may take long, such as an offload or a check."""

from enum import StrEnum


class RunKind(StrEnum):
    """What a run does."""

    OFFLOAD = "offload"
    """copies a card to stores"""
    FEED = "feed"
    """brings a copy what its store was too slow for, from another store"""
    CHECK = "check"
    """reads a copy again"""
    REMOVAL = "removal"
    """takes files off a card that are safe elsewhere, each compared with a copy"""
    MAKE_ROOM = "make room"
    """takes files of a roll off a store that are safe elsewhere, each read back there first"""
    JOIN = "join"
    """joins the chapters of a recording on the stores that hold them"""
    RETURN = "return"
    """brings files of a roll to a folder that somebody works in, from a copy"""
    WORKING = "working"
    """makes copies of recordings to work with; they are counted as copies of nothing"""
    TAKE_AWAY = "take-away"
    """writes a roll's pictures, light copies, marks and notes to a folder, with a page that shows them"""


class RunEnd(StrEnum):
    """How a run ended. What is safe is another matter: that is judged from the copies."""

    WELL = "well"
    """it did all it was asked for; after an offload, every file was read and is safe on every store"""
    TROUBLE = "trouble"
    PULLED = "pulled"
    """the card left its reader before it was read to its end"""
    CANCELLED = "cancelled"
    BROKE_OFF = "broke off"
    """something nobody foresaw; nothing it did is claimed"""


class RunState(StrEnum):
    """How a run stands, for screens."""

    WAITING = "waiting"
    PAUSED = "paused"
    RUNNING = "running"
    STOPPING = "stopping"
    WELL = "well"
    TROUBLE = "trouble"
    PULLED = "pulled"
    CANCELLED = "cancelled"
    BROKE_OFF = "broke off"
