"""The keys that certificates are signed with: files on the machine that serves the ledger, in no database or backup."""

import hashlib
import os
from pathlib import Path

from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey
from cryptography.hazmat.primitives.serialization import Encoding, NoEncryption, PrivateFormat, load_pem_private_key
from django.conf import settings

from ruggedraft.core.errors import ActRefused, why
from ruggedraft.productions.models import Production


def file_of(production: Production, public: bytes) -> Path:
    """Where the private half of a key is kept: PKCS #8 in PEM (RFC 7468), unencrypted."""
    return Path(settings.KEYS, f"{production.slug}-{hashlib.sha256(public).hexdigest()[:16]}.pem")


def new_key(production: Production) -> Ed25519PrivateKey:
    """Made and on disk before anything is signed with it. Raises ActRefused."""
    key = Ed25519PrivateKey.generate()
    packed = key.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption())
    place = file_of(production, key.public_key().public_bytes_raw())
    try:
        place.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
        descriptor = os.open(place, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(descriptor, "wb") as file:
            file.write(packed)
            file.flush()
            os.fsync(file.fileno())
    except OSError as error:
        raise ActRefused(f"A key for certificates cannot be kept in {place.parent} ({why(error)}).") from error
    return key


def kept_key(production: Production, public: bytes) -> Ed25519PrivateKey:
    """The private half of a key. Raises ActRefused where it is not here, or another is in its place."""
    place = file_of(production, public)
    try:
        key = load_pem_private_key(place.read_bytes(), None)
    except (OSError, ValueError) as error:
        said = why(error) if isinstance(error, OSError) else "it is damaged"
        raise ActRefused(f"{_key_of(production)} cannot be read from {place} ({said}). {_WHAT_TO_DO}") from error
    if not isinstance(key, Ed25519PrivateKey) or key.public_key().public_bytes_raw() != public:
        raise ActRefused(f"{place} is another key than {_key_of(production)}. {_WHAT_TO_DO}")
    return key


def _key_of(production: Production) -> str:
    return f"the key that certificates of {production.name} are signed with"


_WHAT_TO_DO = (
    "Nothing was signed. Put the file back from where you keep it, or have a new key made in Set-up: papers then carry "
    "another fingerprint."
)
