"""Are the files on a card that look like the ledger's really those? Their first and last bytes tell."""

from collections.abc import Iterable

from ruggedraft.core.errors import SourceError, SourceUnreadable, SourceVanished
from ruggedraft.core.sources import CardSource, FingerprintKind, from_ledger, read_fingerprint
from ruggedraft.intake.acts.read_card import note_fingerprints
from ruggedraft.intake.fingerprints import fingerprint_kind
from ruggedraft.intake.models import CardListing
from ruggedraft.intake.readers import open_card

from ..queries import files_like

_AT_ONCE = 200
"""So many files are looked at while the card is being listed; more are left to a job of their own."""


def looks_known(listing: CardListing) -> bool:
    """Whether any file on a card that was just listed has to be confirmed."""
    return bool(files_like(listing))


def confirm_or_ask(listing: CardListing, source: CardSource) -> None:
    """What is to be done with each new listing of a card."""
    from ..tasks import ask_confirmation

    wanted = files_like(listing)
    if len(wanted) <= _AT_ONCE:
        _confirm(listing, source, wanted)
    else:
        ask_confirmation(listing)


def confirm_card(listing: CardListing) -> None:
    """Take the fingerprints of every file that looks like one of the ledger's. Ends without a word if it is pulled."""
    try:
        _confirm(listing, open_card(listing.insertion), files_like(listing))
    except SourceVanished:
        return


def _confirm(listing: CardListing, source: CardSource, wanted: Iterable[tuple[str, int]]) -> None:
    found, kind = {}, fingerprint_kind()
    try:
        for path, size in wanted:
            fingerprint = _fingerprint(source, path, size, kind)
            if fingerprint:
                found[path] = fingerprint
    except SourceVanished:
        return
    if CardListing.objects.filter(pk=listing.pk, insertion__removed_at=None).exists():
        note_fingerprints(listing, found)


def _fingerprint(source: CardSource, path: str, size: int, kind: FingerprintKind) -> str:
    """Empty where it cannot be read: then it is not confirmed. Raises SourceVanished."""
    try:
        file = source.open(from_ledger(path))
    except SourceUnreadable:
        return ""
    try:
        return read_fingerprint(file, size, kind)
    except SourceVanished:
        raise
    except SourceError:
        return ""
    finally:
        file.close()
