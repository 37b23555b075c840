"""The states that screens draw. Each is decided here, once, and travels as this word to every screen."""

from enum import StrEnum


class CopyState(StrEnum):
    """How a copy stands."""

    WANTED = "wanted"
    """nothing of the roll is known to be there"""
    PARTIAL = "partial"
    """some of the roll's files are there and agree, the others were never brought, or were taken off to make room"""
    BROKEN = "broken"
    """a file is damaged there, or was there and is gone"""
    WEAK = "weak"
    """whole, but proven less strongly than the rule asks, or on a store that does not count"""
    STALE = "stale"
    """whole and proven, but read longer ago than the rule allows"""
    VERIFIED = "verified"
    """whole, and it counts"""
    LOST = "lost"
    """its store was reported lost"""


class RollState(StrEnum):
    """How a roll stands. Nothing but its copies is judged: signatures and holds belong to the card."""

    BELOW = "below the line"
    """its card was cleared, and the rule is not met any more"""
    SHORT = "short"
    SAFE = "safe"


class AsideKind(StrEnum):
    """Why a card is out of use."""

    QUARANTINE = "quarantined"
    """until somebody has looked into it"""
    RETIRED = "retired"
    """for good"""
    LOST = "lost"
    BROKEN = "broken"


class CardStanding(StrEnum):
    """Where a card stands. Only CLEARED and EMPTY say that it may go to a camera."""

    NEVER_READ = "never read"
    EMPTY = "empty"
    """in a reader, read lately, nothing on it, and nothing that was on it is owed"""
    GONE = "files gone"
    """files that were on it are in no copy and not on it any more"""
    UNREAD = "not offloaded"
    RUNNING = "being offloaded"
    BLOCKED = "not clear"
    OLD = "not read since"
    """nothing spoke against it when it was last read, which is longer ago than the rule allows"""
    CLEARABLE = "ready to sign"
    SIGNED = "waiting for a signature"
    CLEARED = "cleared"
    OUT = "handed back"
    """cleared and handed back; what is on it now is not known"""
    ASIDE = "out of use"
    """nothing on it is owed, and it is out of use: it goes to no camera"""
    FINALS = "set of finals"
    """nothing speaks against it: a folder of finals, which is no card and is never cleared"""
    PACKAGE = "package"
    """nothing speaks against it: a sealed package of a roll, which is no card either"""

    @property
    def may_go_back(self) -> bool:
        """Whether the card may go back to a camera."""
        return self in (CardStanding.CLEARED, CardStanding.EMPTY)


class BlockKind(StrEnum):
    """What keeps a card from being cleared, or a roll from being safe."""

    LISTING = "listing"
    GONE = "gone"
    UNCONFIRMED = "unconfirmed"
    """files look like files of a roll, and their fingerprints were not compared yet"""
    UNCOVERED = "uncovered"
    REVOKED = "revoked"
    NOTHING = "nothing"
    UNREAD = "unread"
    COPIES = "copies"
    DEVICES = "devices"
    LOCATIONS = "locations"
    OFFSITE = "off-site"
    MEDIA = "media kinds"
    LOOKED_AT = "looked at"
    HOLD = "hold"
    HEALTH = "health"
    """it gave errors or slowed down, and nobody has answered for that"""
    OUT_OF_USE = "out of use"
    RECALLED = "recalled"
    """it went out as cleared, and the clearance was revoked since"""
    LOOK = "look"
    """a copy on a connected store was not looked at lately enough to sign"""
