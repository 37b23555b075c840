"""What is known of the keys that certificates are signed with."""

from dataclasses import dataclass
from datetime import datetime

from ruggedraft.core.certificates import fingerprint
from ruggedraft.productions.models import Production

from .models import SigningKey


@dataclass(frozen=True)
class KnownKey:
    """fingerprint: as papers have it. by: who wanted it; empty for the first"""

    fingerprint: str
    since: datetime
    by: str


def keys_of(production: Production) -> list[KnownKey]:
    """Every key that certificates were signed with, the one in use first."""
    rows = SigningKey.objects.filter(production=production).select_related("person").order_by("-pk")
    return [KnownKey(fingerprint(bytes(r.public)), r.since, r.person.shown_name if r.person else "") for r in rows]
