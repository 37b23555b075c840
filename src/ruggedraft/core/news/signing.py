"""Signing what is sent to other programs, so that they know who sent it and when.

Standard Webhooks, version 1 (standard-webhooks specification, "Signature scheme"): HMAC-SHA256 over the message's id,
its time and its body, in base64; a secret is 24 to 64 bytes, in base64 behind "whsec_".
"""

import base64
import hashlib
import hmac
import secrets

_PREFIX = "whsec_"


def new_secret() -> str:
    """Of 32 random bytes."""
    return _PREFIX + base64.b64encode(secrets.token_bytes(32)).decode()


def signed_headers(secret: str, message_id: str, timestamp: int, body: bytes) -> dict[str, str]:
    """timestamp: seconds since 1970-01-01 UTC"""
    key = base64.b64decode(secret.removeprefix(_PREFIX))
    signed = f"{message_id}.{timestamp}.".encode() + body
    signature = base64.b64encode(hmac.new(key, signed, hashlib.sha256).digest()).decode()
    return {
        "webhook-id": message_id,
        "webhook-timestamp": str(timestamp),
        "webhook-signature": f"v1,{signature}",
    }
