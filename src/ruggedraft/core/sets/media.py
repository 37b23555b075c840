"""What discs and tapes hold. Sizes in decimal units, as they are sold (common practice)."""

from dataclasses import dataclass

from ..errors import ActRefused

_SECTOR = 2048
"""Bytes of a disc's sector (ECMA-130, ECMA-119); every file takes whole ones."""
_TAPE_BLOCK = 512 << 10
"""Bytes of a tape's block, as tapes with a file system are written by default (from memory); files take whole ones."""


@dataclass(frozen=True)
class Medium:
    """capacity: bytes, as it is sold. block: bytes of which a file takes whole ones

    per_file: bytes that a file or folder takes besides. fixed: bytes that the medium keeps for itself
    """

    name: str
    capacity: int
    block: int
    per_file: int
    fixed: int

    @property
    def room(self) -> int:
        """Bytes for files, with what they take besides."""
        return self.capacity - self.fixed

    def takes(self, size: int) -> int:
        """Bytes that a file of this size takes.

        >>> medium_named("CD, 700 MB").takes(1)
        6144
        """
        return -(-size // self.block) * self.block + self.per_file


def _disc(name: str, capacity: int) -> Medium:
    """A file's entry and a share of its folder's; descriptors, path tables, the set's index in the fixed part."""
    return Medium(name, capacity, _SECTOR, 2 * _SECTOR, 8 << 20)


def _tape(name: str, capacity: int) -> Medium:
    """The index, which is kept twice, grows with the files; three in a hundred go to it and to gaps (from memory)."""
    return Medium(name, capacity, _TAPE_BLOCK, 4 << 10, capacity * 3 // 100)


MEDIA = (
    _disc("CD, 700 MB", 700 * 10**6),
    _disc("DVD, 4.7 GB", 4_700 * 10**6),
    _disc("Blu-ray, 25 GB", 25 * 10**9),
    _tape("Tape, 1.5 TB", 1_500 * 10**9),
    _tape("Tape, 2.5 TB", 2_500 * 10**9),
    _tape("Tape, 6 TB", 6_000 * 10**9),
    _tape("Tape, 12 TB", 12_000 * 10**9),
    _tape("Tape, 18 TB", 18_000 * 10**9),
)
"""Disc sizes are common practice; tape sizes are native capacities of generations that are in use, from memory."""
SMALLEST = 100 * 10**6
"""Bytes of the smallest medium that somebody may name."""


def custom_medium(capacity: int, *, tape: bool = False) -> Medium:
    """Of another size, in bytes. Raises ActRefused for less than `SMALLEST`."""
    if not SMALLEST <= capacity <= 10**15:
        raise ActRefused("A medium holds at least 0.1 GB.")
    return (_tape if tape else _disc)(f"{'Tape' if tape else 'Disc'}, {capacity / 10**9:g} GB", capacity)


def medium_named(name: str) -> Medium:
    """Raises ActRefused."""
    found = next((one for one in MEDIA if one.name == name), None)
    if found is None:
        raise ActRefused(f"There is no medium '{name}'. There are: {'; '.join(one.name for one in MEDIA)}.")
    return found
