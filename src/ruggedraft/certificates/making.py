"""Certificates, made of what was written down when a clearance was signed; the same facts make the same bytes."""

import hashlib
from dataclasses import dataclass
from typing import Any

from ruggedraft.clearing.evidence import unpacked
from ruggedraft.clearing.models import Clearance, Revocation
from ruggedraft.core.certificates import CLEARANCE, REVOCATIONS, fingerprint, signed
from ruggedraft.core.errors import NotThere
from ruggedraft.journal.anchors import journal_head
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.productions.models import Production

from .acts.use_key import key_in_use

FORM = 1
"""Of a first line; docs/clearances.md describes it."""


@dataclass(frozen=True)
class Certificate:
    """content: what is handed out. said: its first line. key: fingerprint of what it is signed with

    newest: number of the last edition; the first is 1
    """

    content: bytes
    said: dict[str, Any]
    key: str
    newest: int

    @property
    def name(self) -> str:
        """What it is called as a file, without an ending."""
        return f"{self.said['roll']}-clearance-{self.said['clearance']}-edition-{self.said['edition']}"


def certificate_of(production: Production, clearance_id: int, edition: int | None = None) -> Certificate:
    """Of a clearance; edition: None for the newest. A clearance that was revoked has a second, which says so.

    Raises NotThere, ActRefused where it cannot be signed.
    """
    row = _clearance(production, clearance_id)
    revoked = Revocation.objects.filter(clearance=row).select_related("person").first()
    newest = 2 if revoked else 1
    edition = newest if edition is None else edition
    if not 1 <= edition <= newest:
        raise NotThere(f"This certificate has no edition {edition}.")
    key = key_in_use(production)
    said = _said(production, row)
    content = signed(said, key)
    if edition == 2 and revoked:
        said |= {"edition": 2, "before": hashlib.sha256(content).hexdigest(), "revoked": _taken_back(revoked)}
        said["journal"] = _sealed("revoke clearance", row)
        content = signed(said, key)
    return Certificate(content, said, fingerprint(key.public_key().public_bytes_raw()), newest)


def revocations_of(production: Production) -> bytes:
    """The signed list of the clearances that were revoked by now, oldest first. Raises ActRefused."""
    rows = Revocation.objects.filter(clearance__roll__production=production).select_related("person", "clearance")
    listed = [{"clearance": one.clearance_id} | _taken_back(one) for one in rows.order_by("pk")]
    said = {
        "certificate": REVOCATIONS, "form": FORM,
        "production": production.name, "production_uuid": str(production.uuid),
        "as_of": now().isoformat(), "revoked": listed, "journal": dict(journal_head()),
    }  # fmt: skip
    return signed(said, key_in_use(production))


def _clearance(production: Production, clearance_id: int) -> Clearance:
    rows = Clearance.objects.select_related("card", "roll").filter(roll__production=production, pk=clearance_id)
    row = rows.first()
    if row is None:
        raise NotThere(f"There is no such clearance in {production.name}.")
    return row


def _said(production: Production, row: Clearance) -> dict[str, Any]:
    """A first edition's first line."""
    files = list(unpacked(bytes(row.files))) if row.files else None
    return {
        "certificate": CLEARANCE, "form": FORM, "edition": 1, "before": None, "clearance": row.pk,
        "production": row.evidence.get("production", production.name), "production_uuid": str(production.uuid),
        "card": row.card.label, "roll": row.roll.tag, "rolls": sorted(row.rolls.values_list("tag", flat=True)),
        "at": row.at.isoformat(), "evidence": row.evidence,
        "files": files and [
            [one.roll, one.path, one.size, one.modified_ns, one.checksum, one.fingerprint] for one in files
        ],
        "journal": _sealed("clear", row), "revoked": None,
    }  # fmt: skip


def _taken_back(revoked: Revocation) -> dict[str, Any]:
    return {"at": revoked.at.isoformat(), "by": revoked.person.shown_name, "why": revoked.reason, "out": revoked.out}


def _sealed(act: str, row: Clearance) -> dict[str, object]:
    """The journal's head when that was done: the row of the act itself."""
    entry = JournalEntry.objects.filter(act=act, detail__clearance=row.pk).order_by("pk").values("id", "seal").first()
    return {"id": entry["id"], "seal": entry["seal"]} if entry else {"id": 0, "seal": ""}
