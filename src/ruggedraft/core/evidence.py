"""How strongly a copy is proven, and what a reading gave of one file."""

from enum import IntEnum, StrEnum


class Evidence(IntEnum):
    """How strongly a copy is proven, weakest first."""

    LISTED = 0
    """names and sizes agree"""
    WRITTEN = 1
    """checksum taken while writing; the store was not read past this machine's caches"""
    ATTESTED = 2
    """the store's own server computed the checksum from what it holds, and it agrees"""
    READ_BACK = 3
    """every byte was read from the store again, past this machine's caches, and agrees"""

    @property
    def words(self) -> str:
        """As screens say it, such as "read back"."""
        return self.name.lower().replace("_", " ")


class Level(StrEnum):
    """The same as words, for screens."""

    LISTED = "listed"
    WRITTEN = "written"
    ATTESTED = "attested"
    READ_BACK = "read back"

    @staticmethod
    def of(evidence: Evidence) -> "Level":
        """The words for a strength of evidence."""
        return Level(evidence.words)


class Result(StrEnum):
    """What a reading of a copy, or a look at it, gave of one file."""

    AGREES = "agrees"
    DIFFERS = "differs"
    """something else is under its name"""
    UNREADABLE = "unreadable"
    ABSENT = "absent"
    RETIMED = "retimed"
    """its size is right and its modification time is not: somebody may have written it anew"""
    TAKEN_OFF = "taken off"
    """it was taken away there to make room: nothing is wrong, and nothing is claimed"""
    UNSPOKEN = "not read"
    """not reached, cancelled, or the store went away: this says nothing, good or bad"""

    @property
    def bad(self) -> bool:
        """Whether it speaks against the file: what agreed before is no claim any more."""
        return self not in (Result.AGREES, Result.UNSPOKEN)

    @property
    def is_fault(self) -> bool:
        """Whether something is wrong, which somebody should know of."""
        return self.bad and self is not Result.TAKEN_OFF
