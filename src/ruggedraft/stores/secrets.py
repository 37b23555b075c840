"""What opens a server's door, kept so that neither the database nor its backups give it away.

AES-256-GCM (NIST SP 800-38D) under a key that HKDF-SHA256 (RFC 5869) derives from one that is in no database and in no
backup. Each secret is bound to where it may be sent: in another row, or with another address or
host key beside it, it cannot be opened.
"""

import json
import os
from dataclasses import asdict

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives.ciphers.aead import AESGCM
from cryptography.hazmat.primitives.hashes import SHA256
from cryptography.hazmat.primitives.kdf.hkdf import HKDF
from django.conf import settings

from ruggedraft.core.errors import ActRefused, StoreVanished

from .addresses import Address, Secret

_NONCE = 12  # bytes


def sealed(secret: Secret, owner: str, address: Address) -> bytes:
    """For the database. owner: the store's uuid. Raises ActRefused where there is no key to seal it with."""
    if not settings.STORE_KEY:
        raise ActRefused(
            "This server has no key to keep that encrypted with: set RAFT_STORE_KEY, as docs/deploy.md says."
        )
    nonce = os.urandom(_NONCE)
    return nonce + _cipher().encrypt(nonce, json.dumps(asdict(secret)).encode(), _bound_to(owner, address))


def opened(kept: bytes, owner: str, address: Address, store: str) -> dict[str, str]:
    """The inverse, field by field.

    Raises StoreVanished where this machine has not the key, or somebody changed where it is sent.
    """
    try:
        words = _cipher().decrypt(kept[:_NONCE], kept[_NONCE:], _bound_to(owner, address))
    except (InvalidTag, ValueError) as error:
        raise StoreVanished(
            f"what opens the server of '{store}' cannot be read on this machine: give its key or password again there"
        ) from error
    fields: dict[str, str] = json.loads(words)
    return fields


def _cipher() -> AESGCM:
    derived = HKDF(algorithm=SHA256(), length=32, salt=None, info=b"ruggedraft secrets of stores")
    return AESGCM(derived.derive(settings.STORE_KEY.encode()))


def _bound_to(owner: str, address: Address) -> bytes:
    return json.dumps([owner, asdict(address)], sort_keys=True).encode()
