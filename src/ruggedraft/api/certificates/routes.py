"""Clearances as anybody can check them: signed, and on paper; and what they are signed with."""

from datetime import datetime

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router
from pydantic import BaseModel

from ruggedraft.certificates.acts.use_key import make_new_key
from ruggedraft.certificates.making import certificate_of, revocations_of
from ruggedraft.certificates.queries import KnownKey, keys_of
from ruggedraft.productions.queries import production_named
from ruggedraft.reports.documents.certificate import certificate_paper

from ..answers import described_as, sent
from ..shapes import REFUSED
from ..who import who

router = Router(tags=["certificates"])
_LINES = "application/jsonl"


class KeyOut(BaseModel):
    """fingerprint: what papers are compared by. by: who wanted it; empty for the first"""

    fingerprint: str
    since: datetime
    by: str

    @classmethod
    def of(cls, key: KnownKey) -> "KeyOut":
        return cls(fingerprint=key.fingerprint, since=key.since, by=key.by)


class NewKeyOut(BaseModel):
    fingerprint: str


@router.get("/keys", response=list[KeyOut])
def keys(request: HttpRequest, production: Path[str]) -> list[KeyOut]:
    """Every key that certificates were signed with, the one in use first. None until there is a certificate."""
    return [KeyOut.of(key) for key in keys_of(production_named(production))]


@router.post("/keys", response={200: NewKeyOut, **REFUSED})
def new_key(request: HttpRequest, production: Path[str]) -> NewKeyOut:
    """Sign with another key from now on."""
    return NewKeyOut(fingerprint=make_new_key(who(request), production_named(production)))


@router.get("/revoked.jsonl", openapi_extra=described_as(_LINES), response={**REFUSED})
def revoked(request: HttpRequest, production: Path[str]) -> HttpResponse:
    """The signed list of the clearances that were revoked by now."""
    here = production_named(production)
    return sent(revocations_of(here), _LINES, f"{here.slug}-revoked.jsonl", "attachment")


@router.get("/{clearance_id}/certificate.jsonl", openapi_extra=described_as(_LINES), response={**REFUSED})
def certificate(
    request: HttpRequest, production: Path[str], clearance_id: int, edition: int | None = None
) -> HttpResponse:
    """Signed, as `./raft verify` and docs/check_certificate.py check it. edition: the newest, where none is named"""
    made = certificate_of(production_named(production), clearance_id, edition)
    return sent(made.content, _LINES, f"{made.name}.jsonl", "attachment")


@router.get("/{clearance_id}/certificate.pdf", openapi_extra=described_as("application/pdf"), response={**REFUSED})
def paper(request: HttpRequest, production: Path[str], clearance_id: int, edition: int | None = None) -> HttpResponse:
    """The same on paper; the signed certificate is attached to it."""
    made = certificate_of(production_named(production), clearance_id, edition)
    return sent(certificate_paper(made), "application/pdf", f"{made.name}.pdf")
