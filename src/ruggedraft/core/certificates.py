"""Certificates: what was decided, signed so that anybody can check it without us.

A certificate is two lines of text. The first is JSON, with its names in alphabetical order. The second is JSON as well:
the public key, and the signature of every byte of the first line (Ed25519, RFC 8032), both in hexadecimal digits.
A list of the clearances that were revoked is made in the same way.
"""

import hashlib
import json
import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import Any

from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey, Ed25519PublicKey

CLEARANCE, REVOCATIONS = "clearance", "revoked clearances"
"""What a first line says that it is, under "certificate"."""
LARGEST = 512 << 20
"""Bytes of a certificate that are read: hundreds of thousands of files fit."""
_SEAL = re.compile(rb'\{"key": "([0-9a-f]{64})", "signature": "([0-9a-f]{128})"\}')
_MARK = b'{"'


class CertificateState(StrEnum):
    """What can be said of a certificate."""

    GENUINE = "genuine"
    """signed with the expected key, and not among those that are known to be revoked"""
    REVOKED = "revoked"
    """signed with the expected key, and taken back by the production since"""
    OTHER_KEY = "other key"
    """unchanged since it was signed, but with another key than the expected one: of another production, or anybody's"""
    UNPROVEN = "unproven"
    """unchanged since it was signed, but whose key that is was not said"""
    CHANGED = "changed"
    """its signature is not of what stands in it, or it is no certificate"""

    @property
    def believed(self) -> bool:
        """Whether what stands in it may be relied on."""
        return self is CertificateState.GENUINE


@dataclass(frozen=True)
class Checked:
    """state: what can be said of it. said: what stands in it; empty where it is changed. key: fingerprint, or empty

    revocation: who took it back, when and why, as far as is known. as_of: until when revocations are known, ISO 8601
    """

    state: CertificateState
    said: Mapping[str, Any]
    key: str = ""
    revocation: Mapping[str, Any] | None = None
    as_of: str = ""


def looks_signed(beginning: bytes) -> bool:
    """Whether a file may be a certificate, by its first bytes: no checksum list begins so."""
    return beginning.startswith(_MARK)


def signed(said: Mapping[str, Any], key: Ed25519PrivateKey) -> bytes:
    """A certificate of this. The same facts and key make the same bytes."""
    line = json.dumps(said, sort_keys=True).encode()
    public = key.public_key().public_bytes_raw().hex()
    return line + f'\n{{"key": "{public}", "signature": "{key.sign(line).hex()}"}}\n'.encode()


def fingerprint(public: bytes) -> str:
    """What people compare a public key (32 bytes) by: SHA-256, the first 20 bytes, in groups of four digits.

    >>> fingerprint(bytes(32))
    '6668 7aad f862 bd77 6c8f c18b 8e9f 8e20 0897 1485'
    """
    digits = hashlib.sha256(public).hexdigest()[:40]
    return " ".join(digits[n : n + 4] for n in range(0, 40, 4))


def check_certificate(content: bytes, key: str = "", revoked: bytes | None = None) -> Checked:
    """What can be said of a certificate.

    key: fingerprint of the production's, as it stands on its papers. revoked: the production's signed list of what was
    revoked. A list that is not signed with the expected key, or is older than the clearance, says nothing of it, and
    leaves the certificate unproven
    """
    said, found = _opened(content)
    if said is None or said.get("certificate") != CLEARANCE:
        return Checked(CertificateState.CHANGED, {}, found)
    if not _same(key, found):
        return Checked(CertificateState.OTHER_KEY if _digits(key) else CertificateState.UNPROVEN, said, found)
    if said.get("revoked"):
        return Checked(CertificateState.REVOKED, said, found, said["revoked"])
    if revoked is None:
        return Checked(CertificateState.GENUINE, said, found)
    return _beside(said, found, revoked)


def _beside(said: Mapping[str, Any], key: str, revoked: bytes) -> Checked:
    """A genuine certificate, beside a list of what was revoked."""
    listed, theirs = _opened(revoked)
    if listed is None or listed.get("certificate") != REVOCATIONS or theirs != key:
        return Checked(CertificateState.UNPROVEN, said, key)
    as_of = str(listed.get("as_of", ""))
    if not _speaks_of(as_of, str(said.get("at", ""))):
        return Checked(CertificateState.UNPROVEN, said, key, as_of=as_of)
    mine = next((one for one in listed.get("revoked", []) if one.get("clearance") == said.get("clearance")), None)
    return Checked(CertificateState.REVOKED if mine else CertificateState.GENUINE, said, key, mine, as_of)


def _speaks_of(as_of: str, cleared_at: str) -> bool:
    """Whether a list as of then can know of a clearance; one that was made before says nothing of it."""
    try:
        return datetime.fromisoformat(as_of) >= datetime.fromisoformat(cleared_at)
    except (ValueError, TypeError):  # a moment without its zone is compared with none
        return False


def _opened(content: bytes) -> tuple[dict[str, Any] | None, str]:
    """What is signed, None where it is not what was signed; and the fingerprint of the key that it says."""
    line, end, seal = content.partition(b"\n")
    found = _SEAL.fullmatch(seal.removesuffix(b"\n"))
    if not end or found is None or seal.count(b"\n") != 1:
        return None, ""
    public = bytes.fromhex(found[1].decode())
    try:
        Ed25519PublicKey.from_public_bytes(public).verify(bytes.fromhex(found[2].decode()), line)
        said = json.loads(line)
    except (InvalidSignature, ValueError, RecursionError):
        return None, fingerprint(public)
    return (said if isinstance(said, dict) else None), fingerprint(public)


def _same(expected: str, found: str) -> bool:
    """Two fingerprints, however they are written."""
    return bool(found) and _digits(expected) == _digits(found)


def _digits(written: str) -> str:
    return re.sub(r"[\s:-]", "", written).lower()
