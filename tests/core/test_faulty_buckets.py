"""Buckets of which one request goes wrong, in every way one may: what is claimed is what the server holds."""

import base64
import hashlib
import io
import logging
import shutil
from pathlib import Path
from types import SimpleNamespace
from unittest.mock import patch

import botocore.endpoint

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.sources import list_card
from ruggedraft.core.stores import LocalStore, MemoryStore
from ruggedraft.core.stores.objects import ObjectsStore
from ruggedraft.core.stores.objects import store as store_module
from ruggedraft.core.stores.remote import MARK
from ruggedraft.core.transfer import Memory, Target, transfer

from .faulty_http import FaultsInTurn, FaultyHttp, turned
from .test_faults import FILES, XXH
from .test_objects import BucketCase

STATUS = {
    "500": ("500 Internal Server Error", "InternalError"), "503": ("503 Slow Down", "SlowDown"),
    "denied": ("403 Forbidden", "AccessDenied"), "expired": ("400 Bad Request", "ExpiredToken"),
    "skewed": ("403 Forbidden", "RequestTimeTooSkewed"), "full": ("507 Insufficient Storage", "QuotaExceeded"),
    "torn": ("400 Bad Request", "BadDigest"),
}  # fmt: skip


class Faulty(FaultyHttp):
    answers = tuple(STATUS)
    hows = {
        "PUT": (*STATUS, "done and broken off", "other bytes kept"),
        "POST": (*STATUS, "done and broken off"),
        "GET": ("500", "503", "denied", "expired", "skewed", "truncated", "flipped"),
        "HEAD": ("500", "denied"),
    }

    def __call__(self, environ, start_response):
        how = self.strikes(environ["REQUEST_METHOD"])
        if how in STATUS:
            status, code = STATUS[how]
            environ["wsgi.input"].read(int(environ.get("CONTENT_LENGTH") or 0))
            start_response(status, [("Content-Type", "application/xml")])
            return [f"<Error><Code>{code}</Code><Message>no</Message></Error>".encode()]
        if how == "other bytes kept":
            return self.keep_others(environ, start_response)
        return self.told(environ, start_response, how)

    def keep_others(self, environ, start_response):
        """The server keeps other bytes than came, and confirms those that came."""
        kept = turned(environ["wsgi.input"].read(int(environ.get("CONTENT_LENGTH") or 0)))
        sent = environ.get("HTTP_X_AMZ_CHECKSUM_SHA256", "")
        if sent:
            environ["HTTP_X_AMZ_CHECKSUM_SHA256"] = base64.b64encode(hashlib.sha256(kept).digest()).decode()

        environ["wsgi.input"] = io.BytesIO(kept)

        def lie(status, headers, *rest):
            told = [(k, sent if k.lower() == "x-amz-checksum-sha256" else v) for k, v in headers]
            return start_response(status, told, *rest)

        return self.application(environ, lie)


class ABucketsFaults(BucketCase, FaultsInTurn):
    patience_s = 1.0

    @classmethod
    def around(cls, application):
        return Faulty(application)

    def setUp(self):
        super().setUp()
        logging.disable(logging.ERROR)
        self.addCleanup(logging.disable, logging.NOTSET)
        at_once = SimpleNamespace(sleep=lambda seconds: None)  # in place of waiting before it tries again
        for place in (patch.object(botocore.endpoint, "time", at_once), patch.object(store_module, "_PART", 5 << 20)):
            place.start()
            self.addCleanup(place.stop)

    def run_to(self, drive: Path, **words):
        self.other = self.another()
        targets = [Target(one, "day/A001", self.memory) for one in (self.store_again(), self.other)]
        return transfer(self.card, list_card(self.card), targets, XXH, **words)

    def store_again(self) -> ObjectsStore:
        return ObjectsStore("bucket", self.client, self.address, "mark-of-it", attests=self.attests)

    def on(self, drive: Path, path: str) -> bytes | None:
        return self.content_of(f"day/A001/{path}")

    def left_behind(self, drive: Path) -> list[str]:
        whole = {f"rolls/day/A001/{path}" for path in FILES} | {f"rolls/{MARK}"}
        found = self.client.list_objects_v2(Bucket=self.address.bucket).get("Contents", ())
        return [f"{one['Key']} was left behind" for one in found if one["Key"] not in whole]

    def wrong_claims(self, report, drive):
        wrong = super().wrong_claims(report, drive)
        if report.stores[0].level is Evidence.ATTESTED:  # a server that lies about what it keeps may be believed so far
            wrong = [one for one in wrong if "is claimed" not in one or self.fault.how != "other bytes kept"]
        return wrong

    def try_all(self, *, attests: bool) -> None:
        self.attests = attests
        self.bucket()
        Faulty.from_now_on(None)
        good = self.run_to(self.base)
        expected = Evidence.ATTESTED if attests else Evidence.READ_BACK
        self.assertEqual((good.stores[0].agreed, good.stores[0].level), (set(FILES), expected), good.stores)
        self.try_each(Faulty, self.bucket, 20)

    def test_what_was_carried_out_though_its_answer_was_lost_is_not_somebody_elses(self):
        """The library asks again, and then meets what the first request left."""
        self.attests = True
        self.bucket()
        Faulty.from_now_on(None)
        self.run_to(self.base)
        asked = [one for one in Faulty.every_fault() if one.how == "done and broken off" and not one.ever_after]
        for self.fault in asked:
            self.bucket()
            Faulty.from_now_on(self.fault)
            report = self.run_to(self.base)
            self.assertTrue(Faulty.struck)
            Faulty.from_now_on(None)
            wrong = self.wrong_claims(report, self.base) + self.left_behind(self.base)
            self.assertEqual((wrong, report.stores[0].failed), ([], []), self.fault)

    def test_what_was_asked_for_again_in_vain_is_told_as_what_the_server_said(self):
        """And not as missing, which is what it says of the name when it is asked for that."""
        self.attests = True
        self.bucket()
        self.run_to(self.base)
        wanted = {("PUT", "503", False), ("PUT", "503", True)}
        for self.fault in [one for one in Faulty.every_fault() if (one.method, one.how, one.ever_after) in wanted][:6]:
            self.bucket()
            Faulty.from_now_on(self.fault)
            with patch.object(Faulty, "hows", {"PUT": ("503",)}):
                report = self.run_to(self.base)
            Faulty.from_now_on(None)
            self.assertNotIn("missing", str(report.stores[0].failed), self.fault)
            self.assertEqual(bool(report.stores[0].failed), self.fault.ever_after, self.fault)

    def test_each_fault_at_each_request_where_the_server_attests(self):
        self.try_all(attests=True)

    def test_each_fault_at_each_request_where_all_is_read_back(self):
        self.try_all(attests=False)


class ABucketsFaultsAndNotes(ABucketsFaults):
    """The same where each run notes what it has proven, and the next believes it."""

    def setUp(self):
        super().setUp()
        self.memory = Memory(b"a key of this ledger", "then")

    def bucket(self, *words, **more):
        shutil.rmtree(self.base / "notes", ignore_errors=True)
        (self.base / "notes").mkdir()
        self.kept = MemoryStore("other")
        return super().bucket(*words, **more)

    def another(self) -> MemoryStore:
        return self.kept

    def store_again(self):
        store = super().store_again()
        store.keeps_notes = lambda: LocalStore("notes", self.base / "notes")
        return store
