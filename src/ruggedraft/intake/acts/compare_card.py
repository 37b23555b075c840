from ruggedraft.core.cards import CardSource, from_ledger
from ruggedraft.core.errors import SourceUnreadable, SourceVanished
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.live.notify import changed

from ..models import Insertion, ListedEntry
from ..readers import open_card

_PIECE = 4 * 1024 * 1024
_TELL_EVERY = 100


def compare_card(insertion: Insertion, algorithm: str) -> None:
    """Read every file of the card's latest listing and note its checksum, so that content can be compared.

    Ends early, keeping what was read, when the card is pulled. A file that cannot be read stays uncompared.
    """
    listing = insertion.listings.order_by("-id").first()
    if listing is None:
        return
    rows = ListedEntry.objects.filter(listing=listing, kind="file", checksum="").order_by("path")
    try:
        source = open_card(insertion)
        for n, row in enumerate(rows, 1):
            row.algorithm, row.checksum = algorithm, _checksum(source, row, algorithm)
            if row.checksum:
                row.save(update_fields=["algorithm", "checksum"])
            if n % _TELL_EVERY == 0:
                changed("media")
    except SourceVanished:
        pass
    changed("media", "readers")


def _checksum(source: CardSource, row: ListedEntry, algorithm: str) -> str:
    """Empty where the file could not be read, or was not what the listing says."""
    hasher = algorithm_named(algorithm).start()
    try:
        file = source.open(from_ledger(row.path))
    except SourceUnreadable:
        return ""
    try:
        view = memoryview(bytearray(_PIECE))
        while count := file.read_into(view):
            hasher.update(view[:count])
        as_listed = file.size_and_time() == (row.size, row.modified_ns)
    except SourceUnreadable:
        return ""
    finally:
        file.close()
    return hasher.hexdigest() if as_listed else ""
