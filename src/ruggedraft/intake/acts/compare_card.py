from django.db.models import F

from ruggedraft.core.errors import SourceUnreadable, SourceVanished
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import CardSource, EndsKept, FingerprintKind, from_ledger
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..fingerprints import fingerprint_kind
from ..models import CardListing, Insertion, ListedEntry
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
    kind = fingerprint_kind()
    try:
        source = open_card(insertion)
        for n, row in enumerate(rows, 1):
            before, row.algorithm = row.fingerprint, algorithm
            row.checksum, row.fingerprint = _read(source, row, algorithm, kind)
            if row.checksum and before in ("", row.fingerprint):
                row.save(update_fields=["algorithm", "checksum", "fingerprint"])
            if n % _TELL_EVERY == 0:
                changed(Topic.MEDIA)
    except SourceVanished:
        pass
    compared = ListedEntry.objects.filter(listing=listing).exclude(checksum="").count()
    CardListing.objects.filter(pk=listing.pk).update(version=F("version") + 1, compared=compared)
    changed(Topic.MEDIA, Topic.READERS)


def _read(source: CardSource, row: ListedEntry, algorithm: str, kind: FingerprintKind) -> tuple[str, str]:
    """Checksum and fingerprint; empty where the file could not be read, or was not what the listing says."""
    hasher = algorithm_named(algorithm).start()
    try:
        file = source.open(from_ledger(row.path))
    except SourceUnreadable:
        return "", ""
    ends = EndsKept(row.size, kind)
    try:
        view = memoryview(bytearray(_PIECE))
        while count := file.read_into(view):
            hasher.update(view[:count])
            ends.update(view[:count])
        as_listed = file.size_and_time() == (row.size, row.modified_ns)
    except SourceUnreadable:
        return "", ""
    finally:
        file.close()
    return (hasher.hexdigest(), ends.fingerprint()) if as_listed else ("", "")
