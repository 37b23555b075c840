"""Check a certificate without Rugged Raft: python3 check_certificate.py CERTIFICATE FINGERPRINT [REVOKED]"""

import hashlib, json, re, sys  # noqa: E401

from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PublicKey


def signed_by(path: str, fingerprint: str) -> dict:
    line, seal, end = open(path, "rb").read().split(b"\n")  # two lines: what is said, and key and signature
    seal = re.fullmatch(rb'{"key": "([0-9a-f]{64})", "signature": "([0-9a-f]{128})"}', seal)
    key, signature = (bytes.fromhex(part.decode()) for part in seal.groups())
    Ed25519PublicKey.from_public_bytes(key).verify(signature, line)  # raises InvalidSignature
    if end or hashlib.sha256(key).hexdigest()[:40] != "".join(fingerprint.split()).lower():
        sys.exit("not genuine: signed with another key")
    return json.loads(line)


said = signed_by(sys.argv[1], sys.argv[2])
listed = signed_by(sys.argv[3], sys.argv[2]) if len(sys.argv) > 3 else {"as_of": said["at"], "revoked": []}
if said["revoked"] or any(one["clearance"] == said["clearance"] for one in listed["revoked"]):
    sys.exit("revoked")
if listed["as_of"] < said["at"]:  # both in UTC, ISO 8601
    sys.exit("this list is older than the clearance, and says nothing of it")
print(f"genuine: card {said['card']} ({said['roll']}) of {said['production']} was cleared at {said['at']}")
