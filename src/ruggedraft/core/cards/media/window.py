"""A file's bytes at any place, within a budget: what a header can cost is decided here, not by the header."""

from ...errors import RaftError
from ...sources.port import OpenFile

_BLOCK = 16 * 1024
_BUDGET = 4 * 1024 * 1024
_BLOCKS_KEPT = 64


class HeaderUnreadable(RaftError):
    """A header that lies, ends early, or would cost too much to follow. A note on the file, never a failure."""


class Window:
    """Reads by blocks and keeps the last ones, so that hopping about in a header costs few reads of the card.

    size: bytes of the file. budget: bytes that may be fetched in all before HeaderUnreadable.
    """

    def __init__(self, file: OpenFile, size: int, *, budget: int = _BUDGET) -> None:
        self._file, self.size, self._left = file, size, budget
        self._blocks: dict[int, bytes] = {}

    def at(self, offset: int, length: int) -> bytes:
        """Exactly `length` bytes from `offset`. Raises HeaderUnreadable where there are not so many."""
        if offset < 0 or length < 0 or offset + length > self.size:
            raise HeaderUnreadable("its header points outside the file")
        number, place = divmod(offset, _BLOCK)
        if place + length <= _BLOCK:
            piece = self._block(number)[place : place + length]
            if len(piece) == length:
                return piece
        found = bytearray()
        while len(found) < length:
            place = offset + len(found)
            block = self._block(place // _BLOCK)
            piece = block[place % _BLOCK : place % _BLOCK + length - len(found)]
            if not piece:
                raise HeaderUnreadable("it ends earlier than its size says")
            found += piece
        return bytes(found)

    def number(self, offset: int, length: int, *, little: bool = False) -> int:
        """An unsigned integer of `size` bytes at `offset`. Raises HeaderUnreadable beyond the end."""
        return int.from_bytes(self.at(offset, length), "little" if little else "big")

    def _block(self, number: int) -> bytes:
        known = self._blocks.get(number)
        if known is not None:
            return known
        length = min(_BLOCK, self.size - number * _BLOCK)
        self._left -= length
        if self._left < 0:
            raise HeaderUnreadable("its header leads on and on; reading it was cut off")
        if len(self._blocks) >= _BLOCKS_KEPT:
            self._blocks.pop(next(iter(self._blocks)))
        block = self._blocks[number] = self._file.read_at(number * _BLOCK, length)
        return block
