"""Which kind of fingerprints this ledger takes: one for all of it, as two kinds cannot be compared."""

from ruggedraft.core.sources import FingerprintKind

from .models import OlderFingerprints


def fingerprint_kind() -> FingerprintKind:
    """The kind it began with."""
    older = OlderFingerprints.objects.first()
    return FingerprintKind(older.kind) if older else FingerprintKind.XXH3


def go_on_with(kind: FingerprintKind) -> None:
    """For a ledger that has none yet: it is made from what has some."""
    if kind is not FingerprintKind.XXH3:
        OlderFingerprints.objects.create(kind=kind.value)


def comparable(fingerprint: str, kind: FingerprintKind) -> str:
    """One that another ledger took, as it counts here: as none, where it is of another kind."""
    return fingerprint if fingerprint and FingerprintKind.of(fingerprint) is kind else ""
