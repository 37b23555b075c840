"""Buckets against moto's server, with what it does not do done around it; and one that fails in every way one may."""

import base64
import hashlib
import random
import uuid
from contextlib import contextmanager
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from email.utils import format_datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase
from unittest.mock import patch

from ruggedraft.core.errors import FileRefused, StoreVanished
from ruggedraft.core.evidence import Evidence, Result
from ruggedraft.core.hashing import ALGORITHMS
from ruggedraft.core.sources import MemorySource, list_card
from ruggedraft.core.stores import MemoryStore
from ruggedraft.core.stores.objects import ObjectsAddress, ObjectsSecret, ObjectsStore, objects_client
from ruggedraft.core.stores.objects import store as store_module
from ruggedraft.core.stores.port import UNBOUNDED
from ruggedraft.core.stores.remote import MARK
from ruggedraft.core.transfer import FileRead, Target, feed, transfer
from ruggedraft.core.transfer.checking import ToCheck, check_copy
from ruggedraft.standins.bucket_server import ACCESS_KEY, SECRET_KEY, BucketServer, Storage

from .store_contract import StoreContract, T
from .test_faults import XXH

NOW = datetime(2026, 5, 14, 12, tzinfo=UTC)
SECRET = ObjectsSecret(ACCESS_KEY, SECRET_KEY)


class BucketCase(TestCase):
    patience_s = 10.0

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.server = BucketServer(around=cls.around).start()
        cls.addClassCleanup(cls.server.stop)
        cls.client = objects_client(ObjectsAddress(cls.server.endpoint, "us-east-1", ""), SECRET, cls.patience_s)
        cls.addClassCleanup(cls.client.close)

    @classmethod
    def around(cls, application):
        return application

    def bucket(self, mark: str = "mark-of-it", **words) -> ObjectsStore:
        self.address = ObjectsAddress(self.server.endpoint, "us-east-1", f"b{uuid.uuid4().hex}", "rolls")
        self.client.create_bucket(Bucket=self.address.bucket)
        self.client.put_object(Bucket=self.address.bucket, Key=f"rolls/{MARK}", Body=mark.encode())
        return ObjectsStore("bucket", self.client, self.address, mark, **words)

    def content_of(self, path):
        try:
            return self.client.get_object(Bucket=self.address.bucket, Key=f"rolls/{path}")["Body"].read()
        except self.client.exceptions.NoSuchKey:
            return None


class Bucket(BucketCase, StoreContract, TestCase):
    def make_store(self):
        return self.bucket()

    def test_large_files_go_in_parts_and_are_seen_when_they_are_whole(self):
        content = random.Random(1).randbytes(12 << 20)
        with patch.object(store_module, "_PART", 5 << 20):
            pending = self.store.write("roll/big", len(content))
            for start in range(0, len(content), 1 << 20):
                pending.write(memoryview(content)[start : start + (1 << 20)])
            pending.end(T)
        self.assertIsNone(self.content_of("roll/big"))
        self.assertEqual(self.store.commit([pending]), [None])
        self.assertEqual(self.content_of("roll/big"), content)
        confirmed = self.store.attested([("roll/big", hashlib.sha256(content).hexdigest())], ALGORITHMS["sha256"])
        self.assertEqual(confirmed, [True])
        dropped = self.store.write("roll/other", 12 << 20)
        with patch.object(store_module, "_PART", 5 << 20):
            dropped.write(content)
            dropped.discard()
        self.assertNotIn("Uploads", self.client.list_multipart_uploads(Bucket=self.address.bucket))

    def test_listing_goes_on_from_page_to_page(self):
        for n in range(12):
            self.put(f"roll/{n:02}", b"x" * n)
        real = self.client.list_objects_v2
        with patch.object(self.client, "list_objects_v2", lambda **words: real(**words, MaxKeys=5)):
            there = self.store.look("roll")
        self.assertEqual(there, {f"{n:02}": (n, None) for n in range(12)})

    def test_names_of_which_no_key_can_be_made_are_refused_one_by_one(self):
        for path in ("caf\udce9", "x" * 1025):
            with self.subTest(path[:5]), self.assertRaises(FileRefused):
                self.store.write(f"roll/{path}")
        card = MemorySource({"caf\udce9": b"odd", "good": b"good"})
        (result,) = transfer(card, list_card(card), [Target(self.store, "roll")], XXH).stores
        self.assertEqual((result.agreed, [one.path for one in result.failed]), ({"good"}, ["caf\udce9"]))

    def test_what_is_sealed_is_held_by_the_buckets_object_lock_where_it_has_one(self):
        self.put("roll/1.MOV", b"x")
        with self.assertRaisesRegex(FileRefused, "has no object lock"):
            self.store.seal("roll/1.MOV")
        self.store.unseal("roll/1.MOV")
        address = ObjectsAddress(self.server.endpoint, "us-east-1", f"locked{uuid.uuid4().hex}", "rolls")
        self.client.create_bucket(Bucket=address.bucket, ObjectLockEnabledForBucket=True)
        self.client.put_object(Bucket=address.bucket, Key="rolls/1.MOV", Body=b"x")
        locked = ObjectsStore("locked", self.client, address)

        def status() -> str:
            return self.client.get_object_legal_hold(Bucket=address.bucket, Key="rolls/1.MOV")["LegalHold"]["Status"]

        locked.seal("1.MOV")
        self.assertEqual(status(), "ON")
        locked.unseal("1.MOV")
        self.assertEqual(status(), "OFF")

    def test_what_the_server_confirmed_is_attested_and_what_stood_there_is_read(self):
        card = MemorySource({"1.MOV": b"as the card has it", "2.MOV": b"another"})
        run = [Target(self.store, "roll")]
        (result,) = transfer(card, list_card(card), run, XXH).stores
        self.assertEqual((result.agreed, result.level, result.verified), (set(card.files), Evidence.ATTESTED, False))
        (again,) = transfer(card, list_card(card), run, XXH).stores
        self.assertEqual((again.already, again.level, again.verified), (2, Evidence.READ_BACK, True))

    def test_a_server_that_confirms_nothing_is_read_back_and_one_that_lies_is_found_out_by_reading(self):
        card = MemorySource({"1.MOV": b"as the card has it"})
        real = self.client.put_object

        def lying(**words):
            wrong = base64.b64encode(hashlib.sha256(b"as the server has i").digest()).decode()
            answer = real(**words | {"Body": b"as the server has i", "ChecksumSHA256": wrong})
            return answer | {"ChecksumSHA256": words["ChecksumSHA256"]}

        silent = without_checksum(real)
        for put, level, claimed in ((silent, Evidence.READ_BACK, True), (lying, Evidence.ATTESTED, False)):
            head = without_checksum(self.client.head_object)
            mute = patch.object(self.client, "head_object", head)
            with self.subTest(level), patch.object(self.client, "put_object", put), mute:
                target = Target(self.store, "lying" if put is lying else "silent")
                (result,) = transfer(card, list_card(card), [target], XXH).stores
                self.assertEqual((result.level, result.verified), (level, claimed))
        sums = FileRead(19, T, _xxh(b"as the card has it"), ()).checksum
        checked = check_copy(self.store, "lying", {"1.MOV": ToCheck(19, sums)}, XXH)
        self.assertEqual([one.found for one in checked.failed], [Result.DIFFERS])

    def test_a_torn_upload_is_refused_by_the_server_itself(self):
        """As the protocol's own reference says of a body that is not the one whose checksum was sent."""
        with self.assertRaises(self.client.exceptions.ClientError) as raised:
            wrong = base64.b64encode(bytes(32)).decode()
            self.client.put_object(Bucket=self.address.bucket, Key="x", Body=b"y", ChecksumSHA256=wrong)
        self.assertEqual(raised.exception.response["Error"]["Code"], "BadDigest")

    def test_a_drive_that_is_fed_from_it_gets_the_times_of_the_card(self):
        self.put("roll/1.MOV", b"from the card")
        drive = MemoryStore("drive")
        read = {"DCIM/1.MOV": FileRead(13, T, _xxh(b"from the card"), ())}
        kept_as = {"DCIM/1.MOV": "1.MOV"}
        result = feed(Target(self.store, "roll"), Target(drive, "A001"), read, XXH, kept_as=kept_as)
        self.assertTrue(result.verified, result.failed)
        self.assertEqual(drive.files["A001/1.MOV"], (b"from the card", T))

    def test_another_store_an_empty_bucket_and_none_at_all_are_not_it(self):
        for store, words in (
            (ObjectsStore("b", self.client, self.address, "another"), "another store"),
            (ObjectsStore("b", self.client, replace(self.address, prefix="elsewhere"), "mark-of-it"), "bears no mark"),
            (ObjectsStore("b", self.client, replace(self.address, bucket="nobody"), "mark-of-it"), "bears no mark"),
        ):
            with self.subTest(words), self.assertRaisesRegex(StoreVanished, words):
                store.look("roll")
        self.assertEqual(self.store.room().free, UNBOUNDED)
        self.assertNotIn(SECRET_KEY, repr(SECRET))

    def test_uploads_of_runs_that_died_are_given_up_by_the_servers_clock(self):
        """The stand-in says of every upload that it was begun in 2010: its answers are dated anew."""
        self.client.create_multipart_upload(Bucket=self.address.bucket, Key="rolls/half")
        real = self.client.list_multipart_uploads

        def dated(hours: int):
            def answer(**words):
                found = real(**words)
                found["ResponseMetadata"]["HTTPHeaders"]["date"] = format_datetime(NOW, usegmt=True)
                uploads = [one | {"Initiated": NOW - timedelta(hours=hours)} for one in found.get("Uploads", ())]
                return found | {"Uploads": uploads}

            return patch.object(self.client, "list_multipart_uploads", answer)

        again = ObjectsStore("bucket", self.client, self.address, "mark-of-it")
        self.addCleanup(again.close)
        for hours, left in ((47, 1), (49, 0)):
            with dated(hours):
                again.open()
            self.bucket_uploads(left)

    def bucket_uploads(self, count: int) -> None:
        found = self.client.list_multipart_uploads(Bucket=self.address.bucket).get("Uploads", ())
        self.assertEqual(len(found), count)


class TheStandIn(TestCase):
    def test_it_keeps_what_it_holds_from_one_start_to_the_next_and_gives_what_rotted_rotten(self):
        """By processes of its own, as the demo starts it."""
        home = Path(self.enterContext(TemporaryDirectory()))
        content = random.Random(2).randbytes(6 << 20)
        with self.served(home) as client:
            client.create_bucket(Bucket="kept")
            for key, body in (("a/1.MOV", content), ("empty", b""), ("gone", b"x")):
                client.put_object(Bucket="kept", Key=key, Body=body, ChecksumAlgorithm="SHA256",
                                  ChecksumSHA256=_sha(body))  # fmt: skip
            client.delete_object(Bucket="kept", Key="gone")
        with self.served(home) as client:
            listed = client.list_objects_v2(Bucket="kept")["Contents"]
            self.assertEqual({one["Key"]: one["Size"] for one in listed}, {"a/1.MOV": 6 << 20, "empty": 0})
            self.assertEqual(client.get_object(Bucket="kept", Key="a/1.MOV")["Body"].read(), content)
            head = client.head_object(Bucket="kept", Key="a/1.MOV", ChecksumMode="ENABLED")
            self.assertEqual(head["ChecksumSHA256"], _sha(content))
            (file,) = (
                one for one in (home / "object-storage").rglob("*") if one.is_file() and one.stat().st_size > 9999
            )
            with file.open("r+b") as opened:
                opened.write(bytes([content[0] ^ 1]))
            self.assertNotEqual(client.get_object(Bucket="kept", Key="a/1.MOV")["Body"].read(), content)

    @contextmanager
    def served(self, home: Path):
        storage = Storage(home).start()
        try:
            client = objects_client(ObjectsAddress(storage.endpoint, "us-east-1", ""), SECRET)
            yield client
            client.close()
        finally:
            storage.stop()


def _sha(content: bytes) -> str:
    return base64.b64encode(hashlib.sha256(content).digest()).decode()


def without_checksum(ask):
    return lambda **words: {key: value for key, value in ask(**words).items() if key != "ChecksumSHA256"}


def _xxh(content: bytes) -> str:
    hasher = XXH.start()
    hasher.update(content)
    return hasher.hexdigest()
