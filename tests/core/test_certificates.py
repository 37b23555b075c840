"""Certificates: signed by RFC 8032, and checked by OpenSSL and by the script in docs/, neither of which knows us."""

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase

from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey
from cryptography.hazmat.primitives.serialization import Encoding, PublicFormat

from ruggedraft.core.certificates import (
    CLEARANCE,
    REVOCATIONS,
    CertificateState,
    check_certificate,
    fingerprint,
    looks_signed,
    signed,
)

from .test_commands import raft

SCRIPT = Path(__file__).parents[2] / "docs" / "check_certificate.py"
KEY = Ed25519PrivateKey.from_private_bytes(
    bytes.fromhex("9d61b19deffd5a60ba844af492ec2cc44449c5697b326919703bac031cae7f60")
)
"""RFC 8032, 7.1, test 1."""
PUBLIC = "d75a980182b10ab7d54bfed3c964073a0ee172f3daa62325af021a68f707511a"
OTHER = Ed25519PrivateKey.from_private_bytes(bytes(32))
MINE = fingerprint(bytes.fromhex(PUBLIC))
SAID = {
    "certificate": CLEARANCE, "clearance": 7, "card": "A-01", "roll": "A012", "production": "Tidewrack",
    "revoked": None, "at": "2026-11-29T02:10:00+00:00", "files": [["A012", "é\n\udce9.mov", 5, 1, "aa", ""]],
}  # fmt: skip
CHANGED, GENUINE = CertificateState.CHANGED, CertificateState.GENUINE


def listed(*ids: int, key: Ed25519PrivateKey = KEY, as_of: str = "2026-12-01T00:00:00+00:00") -> bytes:
    """A list of what was revoked."""
    revoked = [{"clearance": one, "by": "Ida", "at": "2026-11-30", "why": "wrong card"} for one in ids]
    return signed({"certificate": REVOCATIONS, "as_of": as_of, "revoked": revoked}, key)


class Judged(TestCase):
    def test_the_same_facts_make_the_same_two_lines(self):
        made = signed(SAID, KEY)
        self.assertEqual(made, signed(dict(reversed(SAID.items())), KEY))
        line, seal, end = made.split(b"\n")
        self.assertEqual((json.loads(line), json.loads(seal)["key"], end), (SAID, PUBLIC, b""))

    def test_every_single_byte_counts(self):
        made = signed(SAID, KEY)
        self.assertIs(check_certificate(made, MINE).state, GENUINE)
        for place in range(len(made)):
            for bit in (1, 32, 128):
                other = made[:place] + bytes([made[place] ^ bit]) + made[place + 1 :]
                self.assertFalse(check_certificate(other, MINE).state.believed, (place, bit))
        for other in (made[:-1], made + b"\n", b" " + made, made + made, made[:80], b"", b"\n", b'{"'):
            self.assertIs(check_certificate(other, MINE).state, CHANGED)

    def test_another_key_a_key_nobody_named_and_a_clearance_taken_back_are_told_apart(self):
        made = signed(SAID, KEY)
        for state, found in (
            (CertificateState.OTHER_KEY, check_certificate(signed(SAID, OTHER), MINE)),
            (CertificateState.UNPROVEN, check_certificate(made)),
            (CertificateState.UNPROVEN, check_certificate(made, " - ")),
            (GENUINE, check_certificate(made, MINE.replace(" ", ":").upper())),
            (GENUINE, check_certificate(made, MINE, listed(6, 70))),
            (CertificateState.REVOKED, check_certificate(made, MINE, listed(6, 7))),
            (CertificateState.REVOKED, check_certificate(signed(SAID | {"revoked": {"by": "Ida"}}, KEY), MINE)),
            (CertificateState.UNPROVEN, check_certificate(made, MINE, listed(6, key=OTHER))),
            (CertificateState.UNPROVEN, check_certificate(made, MINE, made)),
            (CertificateState.UNPROVEN, check_certificate(made, MINE, listed(6).replace(b"6", b"5", 1))),
            (CHANGED, check_certificate(listed(6), MINE)),
            (CHANGED, check_certificate(signed({"certificate": "something"}, KEY), MINE)),
        ):
            self.assertIs(found.state, state)
            self.assertEqual(found.state.believed, state is GENUINE)
        self.assertEqual(check_certificate(made, MINE, listed(7)).revocation["why"], "wrong card")
        self.assertEqual(check_certificate(made, MINE, listed(6)).as_of, "2026-12-01T00:00:00+00:00")

    def test_a_list_from_before_the_clearance_says_nothing_of_it(self):
        made = signed(SAID, KEY)
        for as_of in (
            "2026-11-29T02:09:59+00:00",
            "2026-11-29T03:09:59+01:00",
            "2026-12-01",
            "2026-12-01T00:00:00",
            "",
        ):
            self.assertIs(check_certificate(made, MINE, listed(6, as_of=as_of)).state, CertificateState.UNPROVEN, as_of)
        self.assertIs(check_certificate(made, MINE, listed(6, as_of=SAID["at"])).state, GENUINE)

    def test_what_is_nested_too_deeply_is_no_certificate(self):
        for line in (b'{"a": ' + b"[" * 100_000, b'{"a": 1', b"[1]", b'"x"'):
            seal = f'{{"key": "{PUBLIC}", "signature": "{KEY.sign(line).hex()}"}}\n'.encode()
            self.assertIs(check_certificate(line + b"\n" + seal, MINE).state, CHANGED)

    def test_no_checksum_list_is_taken_for_one(self):
        self.assertTrue(looks_signed(signed(SAID, KEY)))
        for line in (b"d41d8cd98f00b204e9800998ecf8427e  a", b"MD5 (a) = d41d8c", b"\\d41d", b"", b"{", b"# list"):
            self.assertFalse(looks_signed(line))


class CheckedByOthers(TestCase):
    def setUp(self):
        home = tempfile.TemporaryDirectory()
        self.addCleanup(home.cleanup)
        self.home = Path(home.name)
        self.made = self.file("certificate.jsonl", signed(SAID, KEY))

    def file(self, name: str, content: bytes) -> Path:
        (self.home / name).write_bytes(content)
        return self.home / name

    def script(self, *words: object) -> int:
        done = subprocess.run([sys.executable, SCRIPT, *map(str, words)], capture_output=True)
        return done.returncode

    def test_openssl_says_that_the_signature_is_right(self):
        line, seal, _ = self.made.read_bytes().split(b"\n")
        key = KEY.public_key().public_bytes(Encoding.PEM, PublicFormat.SubjectPublicKeyInfo)
        words = ["openssl", "pkeyutl", "-verify", "-pubin", "-inkey", self.file("key", key), "-rawin",
                 "-sigfile", self.file("sig", bytes.fromhex(json.loads(seal)["signature"])), "-in"]  # fmt: skip
        self.assertEqual(subprocess.run([*words, self.file("line", line)], capture_output=True).returncode, 0)
        self.assertNotEqual(subprocess.run([*words, self.file("b", line[:-1])], capture_output=True).returncode, 0)

    def test_the_script_and_the_command_say_the_same(self):
        other = self.file("other.jsonl", signed(SAID, OTHER))
        bent = self.file("bent.jsonl", self.made.read_bytes().replace(b"A012", b"A013"))
        fine, bad = self.file("fine", listed(6)), self.file("bad", listed(7))
        alien = self.file("alien", listed(6, key=OTHER))
        old = self.file("old", listed(6, as_of="2026-11-29T02:09:59+00:00"))
        for words, genuine in (
            ((self.made, MINE), True), ((self.made, MINE.upper()), True), ((self.made, MINE, fine), True),
            ((other, MINE), False), ((bent, MINE), False), ((self.made, MINE, bad), False),
            ((self.made, MINE, alien), False), ((self.made, MINE, old), False),
            ((self.made, "0" * 40), False), ((fine, MINE), False),
        ):  # fmt: skip
            path, key, *more = words
            with self.subTest(path=path.name, more=more):
                said = raft("verify", path, "--key", key, *(("--revoked", more[0]) if more else ()))
                self.assertEqual((self.script(*words) == 0, said.returncode == 0), (genuine, genuine), said.stderr)

    def test_the_command_says_what_is_wrong_in_words_and_as_data(self):
        said = raft("verify", self.made, "--json")
        self.assertEqual((said.returncode, json.loads(said.stdout)["certificate"]), (1, "unproven"))
        self.assertIn(MINE, said.stderr)
        said = raft("verify", self.made, "--key", MINE, "--revoked", self.file("bad", listed(7)), "--json")
        self.assertEqual((said.returncode, json.loads(said.stdout)["revocation"]["by"]), (1, "Ida"))
        self.assertIn("must not be erased", said.stderr)
        said = raft("verify", self.made, "--key", MINE, "--revoked", self.home / "nothing")
        self.assertEqual(said.returncode, 2)
