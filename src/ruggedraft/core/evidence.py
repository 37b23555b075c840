from enum import IntEnum


class Evidence(IntEnum):
    """What was done to believe in a copy, weakest first."""

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
        return self.name.lower().replace("_", " ")
