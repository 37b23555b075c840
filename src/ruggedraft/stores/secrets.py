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
    return _sealed(json.dumps(asdict(secret)), _bound_to(owner, address))


def opened(kept: bytes, owner: str, address: Address, store: str) -> dict[str, str]:
    """The inverse, field by field.

    Raises StoreVanished where this machine has not the key, or somebody changed where it is sent.
    """
    fields: dict[str, str] = json.loads(_opened(kept, _bound_to(owner, address), f"opens the server of '{store}'"))
    return fields


def seal_words(words: str, bound_to: str) -> bytes:
    """For the database. bound_to: beside anything else it cannot be opened. Raises ActRefused."""
    return _sealed(words, bound_to.encode())


def open_words(kept: bytes, bound_to: str, whose: str) -> str:
    """The inverse. whose: as people call it. Raises StoreVanished."""
    return _opened(kept, bound_to.encode(), f"signs what '{whose}' is told")


def _sealed(words: str, bound_to: bytes) -> bytes:
    if not settings.STORE_KEY:
        raise ActRefused(
            "This server has no key to keep that encrypted with: set RAFT_STORE_KEY, as docs/deploy.md says."
        )
    nonce = os.urandom(_NONCE)
    return nonce + _cipher().encrypt(nonce, words.encode(), bound_to)


def _opened(kept: bytes, bound_to: bytes, what: str) -> str:
    try:
        return _cipher().decrypt(kept[:_NONCE], kept[_NONCE:], bound_to).decode()
    except (InvalidTag, ValueError) as error:
        raise StoreVanished(
            f"what {what} cannot be read on this machine: give its key or password again there"
        ) from error


def _cipher() -> AESGCM:
    derived = HKDF(algorithm=SHA256(), length=32, salt=None, info=b"ruggedraft secrets of stores")
    return AESGCM(derived.derive(settings.STORE_KEY.encode()))


def _bound_to(owner: str, address: Address) -> bytes:
    return json.dumps([owner, asdict(address)], sort_keys=True).encode()
