"""One-time codes, checked by an implementation of our own of the standards that phones follow (RFC 4226, RFC 6238)."""

import base64
import hashlib
import hmac
import time
from unittest import TestCase as PlainCase

from django.test import Client, TestCase
from django_otp.plugins.otp_totp.models import TOTPDevice

from ruggedraft.crew.acts.invite import link_for_password
from ruggedraft.journal.models import JournalEntry

from .world import World

HOST = {"host": "localhost"}


def code_at(secret: bytes, moment: float, digits: int = 6) -> str:
    """RFC 4226, 5.3, over the half minutes of RFC 6238, 4.2."""
    digest = hmac.new(secret, int(moment // 30).to_bytes(8, "big"), hashlib.sha1).digest()
    offset = digest[-1] & 15
    number = int.from_bytes(digest[offset : offset + 4], "big") & 0x7FFFFFFF
    return f"{number % 10**digits:0{digits}}"


class OurOwn(PlainCase):
    def test_it_gives_what_the_standard_prints(self):
        """RFC 6238, appendix B, the rows of SHA-1."""
        secret = b"12345678901234567890"
        printed = {59: "94287082", 1111111109: "07081804", 1111111111: "14050471", 1234567890: "89005924",
                   2000000000: "69279037", 20000000000: "65353130"}  # fmt: skip
        for moment, code in printed.items():
            self.assertEqual(code_at(secret, moment, 8), code)


class OneTimeCodes(World, TestCase):
    def sign_in(self, code: str = ""):
        said = {"username": "wren", "password": "wren-password", "code": code}
        return Client().post("/api/session", said, "application/json", headers=HOST)

    def ask(self, path: str, body: dict, method: str = "post"):
        return self.post(f"session/{path}", body, self.wren, method)

    def begin(self) -> bytes:
        answer = self.ask("codes", {"password": "wren-password"})
        self.assertEqual(answer.status_code, 200)
        self.assertTrue(answer.json()["picture"].startswith("data:image/svg+xml"))
        return base64.b32decode(answer.json()["secret"])

    def turn_on(self) -> bytes:
        secret = self.begin()
        answer = self.ask("codes", {"code": code_at(secret, time.time() - 30)}, "put")
        self.assertEqual(answer.status_code, 200, "the phone may be half a minute behind")
        return secret

    def test_it_is_asked_for_once_it_was_confirmed_and_not_before(self):
        self.assertEqual(self.sign_in().status_code, 200)
        self.begin()
        self.assertEqual(self.sign_in().status_code, 200)
        self.assertEqual(self.ask("codes", {"code": "000000"}, "put").status_code, 409)
        self.assertEqual(self.sign_in().status_code, 200)
        TOTPDevice.objects.all().delete()
        secret = self.turn_on()
        self.assertTrue(self.get("session/codes")["on"])
        self.assertEqual(self.sign_in().status_code, 428)
        code = code_at(secret, time.time())
        self.assertEqual(self.sign_in(f"{code[:3]} {code[3:]}").status_code, 200)
        self.assertEqual(self.sign_in(code).status_code, 428, "each code is right once")
        sentences = " ".join(JournalEntry.objects.values_list("sentence", flat=True))
        self.assertIn("Wren is asked for a one-time code at each signing in", sentences)
        self.assertNotIn(base64.b32encode(secret).decode(), sentences)

    def test_guessing_is_slowed_down(self):
        secret = self.turn_on()
        wrong = f"{(int(code_at(secret, time.time())) + 1) % 10**6:06}"
        self.assertEqual(self.sign_in(wrong).status_code, 428)
        self.assertEqual(self.sign_in(code_at(secret, time.time())).status_code, 428, "right, and too soon")
        self.assertEqual(TOTPDevice.objects.get().throttling_failure_count, 1)
        TOTPDevice.objects.update(throttling_failure_timestamp=None, throttling_failure_count=0)
        self.assertEqual(self.sign_in(code_at(secret, time.time())).status_code, 200)

    def test_nobody_learns_without_the_password_that_codes_are_asked_for(self):
        self.turn_on()
        said = {"username": "wren", "password": "another", "code": ""}
        self.assertEqual(Client().post("/api/session", said, "application/json", headers=HOST).status_code, 409)

    def test_ones_own_password_ends_it_and_no_other(self):
        self.turn_on()
        self.assertEqual(self.ask("codes", {"password": "wren-password"}).status_code, 409, "they are there already")
        self.assertEqual(self.ask("codes/end", {"password": "another"}).status_code, 409)
        self.assertEqual(self.sign_in().status_code, 428)
        self.assertEqual(self.ask("codes/end", {"password": "wren-password"}).status_code, 200)
        self.assertEqual(self.sign_in().status_code, 200)

    def test_a_link_for_a_new_password_ends_it_for_whoever_lost_the_phone(self):
        self.turn_on()
        secret = link_for_password(self.sol, self.wren)
        used = Client().post("/api/session/link", {"secret": secret, "password": "a whole new password"},
                             "application/json", headers=HOST)  # fmt: skip
        self.assertEqual(used.status_code, 200)
        self.assertFalse(TOTPDevice.objects.exists())
