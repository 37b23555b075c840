"""The stand-ins are real enough: media that general-purpose readers understand, honest drives, and the demo."""

import json
import subprocess
import tempfile
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

import exifread
from django.test import SimpleTestCase, TestCase, override_settings
from django.utils import timezone

from ruggedraft.clearing.cases import active_cards, cases
from ruggedraft.clearing.tally import page_of_rolls
from ruggedraft.clearing.waterline import waterline
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.sources import MemorySource
from ruggedraft.core.stores.port import ToRead, Whole
from ruggedraft.intake.watching import look
from ruggedraft.journal.writing import find_broken_seal
from ruggedraft.kit.models import Device
from ruggedraft.productions.models import Production
from ruggedraft.rolls.summaries import places_of_all
from ruggedraft.standins import card_maker, demo, hub
from ruggedraft.standins.drives import make_drive
from ruggedraft.standins.slow_drive import SLOW_BYTES_PER_S
from ruggedraft.stores.acts.introduce_store import introduce_store
from ruggedraft.stores.acts.sight_stores import sight_stores
from ruggedraft.stores.models import Store
from ruggedraft.stores.opening import open_store
from ruggedraft.stores.probe import SystemDeviceProbe

from .world import World

START = datetime(2026, 5, 14, 9, 30, tzinfo=UTC)


class MadeCards(SimpleTestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.card = Path(folder.name)

    def test_stills_carry_exif_that_a_general_purpose_reader_understands(self):
        card_maker.add_stills(self.card, prefix="SKR_", first=7, count=1, start=START, camera="Tern")
        for name in ("SKR_0007.JPG", "SKR_0007.DNG"):
            with (self.card / "DCIM" / "100SKERR" / name).open("rb") as file:
                tags = exifread.process_file(file)
            self.assertEqual(str(tags["Image Model"]), "Tern")
            self.assertEqual(str(tags["Image DateTime"]), "2026:05:14 09:30:00")

    def test_clips_and_sound_are_what_ffprobe_says_they_are(self):
        card_maker.add_clips(self.card, reel="A001", first=1, count=1, start=START, seconds=2, fine=False)
        card_maker.add_sound(self.card, day="DAY1", first=1, count=1, start=START, seconds=3)
        clip, take = self._probe("A001/A001_C001.MOV"), self._probe("DAY1/T001.WAV")
        self.assertAlmostEqual(float(clip["format"]["duration"]), 2, delta=0.1)
        self.assertEqual(clip["streams"][0]["r_frame_rate"], "25/1")
        self.assertAlmostEqual(float(take["format"]["duration"]), 3, places=3)
        self.assertEqual((take["streams"][0]["sample_rate"], take["streams"][0]["channels"]), ("48000", 2))

    def test_the_same_words_make_the_same_bytes(self):
        made = []
        for name in ("one", "two"):
            folder = self.card / name
            card_maker.add_clips(folder, reel="A001", first=1, count=1, start=START, fine=False)
            card_maker.add_stills(folder, prefix="SKR_", first=1, count=1, start=START, camera="Tern")
            card_maker.add_sound(folder, day="D", first=1, count=1, start=START, seconds=1)
            files = sorted(path for path in folder.rglob("*") if path.is_file())
            made.append([(str(f.relative_to(folder)), f.read_bytes(), f.stat().st_mtime) for f in files])
        self.assertEqual(len(made[0]), 5)
        self.assertEqual(made[0], made[1])

    def _probe(self, path: str) -> dict:
        words = ["ffprobe", "-v", "error", "-of", "json", "-show_format", "-show_streams", str(self.card / path)]
        return json.loads(subprocess.run(words, capture_output=True, check=True).stdout)


class Hub(World, TestCase):
    def test_a_slot_holds_one_card_and_a_card_is_in_one_slot(self):
        self.new_card("A-02", {})
        for serial, slot in (("A-01", "slot-2"), ("A-02", "slot-1"), ("A-02", "slot-9"), ("none", "slot-2")):
            with self.subTest(serial, slot=slot), self.assertRaises(ActRefused):
                hub.insert(serial, slot)

    def test_a_card_in_a_slot_cannot_be_formatted_by_a_camera(self):
        with self.assertRaises(ActRefused):
            hub.format_in_camera("SNA-01")
        hub.remove("slot-1")
        hub.format_in_camera("SNA-01")
        self.assertEqual(list(self.card_folder.iterdir()), [])

    def test_a_card_swapped_between_two_looks_is_a_removal_and_an_insertion(self):
        self.new_card("A-02", {"x": b"x"})
        hub.remove("slot-1")
        hub.insert("A-02", "slot-1")
        look(self.station)
        slot = self.get("bench")["slots"][0]
        self.assertEqual((slot["label"], slot["listing"]["files"]), ("A-02", 1))
        self.assertIsNone(self.standing()["slot"])

    def test_a_paced_card_gives_its_bytes_no_faster_than_its_rate(self):
        source = hub.PacedSource(MemorySource({"a": bytes(400_000)}), 1_000_000)
        started, file = time.monotonic(), source.open("a")
        view = memoryview(bytearray(100_000))
        while file.read_into(view):
            pass
        self.assertGreater(time.monotonic() - started, 0.3)


class Drives(World, TestCase):
    def happens(self, store: str, what: str) -> int:
        return self.post(f"standins/drives/{store}", {"what": what}).status_code

    def room(self, store: str) -> dict:
        sight_stores(self.station)
        return next(one for one in self.get("stores") if one["name"] == store)

    def test_what_people_and_time_do_to_them_is_what_the_product_sees(self):
        self.offload()
        self.assertEqual(self.happens("one", "unplug"), 200)
        self.assertFalse(self.room("one")["online"])
        self.assertEqual((self.happens("one", "unplug"), self.happens("one", "rot")), (409, 409))
        self.assertEqual(self.happens("one", "plug"), 200)
        self.assertTrue(self.room("one")["online"])
        self.assertEqual(self.happens("one", "fill"), 200)
        self.assertEqual(self.room("one")["free"], 0)
        self.assertEqual(self.happens("one", "empty"), 200)
        self.assertGreater(self.room("one")["free"], 0)
        self.assertEqual((self.happens("one", "slow"), self.get("standins/drives")[0]["slow"]), (200, True))
        self.assertEqual((self.happens("one", "quicken"), self.get("standins/drives")[0]["slow"]), (200, False))
        before = {path: path.stat().st_mtime_ns for path in self.on_drive("one").rglob("*") if path.is_file()}
        self.assertEqual(self.happens("one", "rot"), 200)
        self.assertEqual({path: path.stat().st_mtime_ns for path in before}, before, "nobody sees it but by reading")
        self.check(self.card.rolls.get(), "one")
        self.assertEqual(self.standing()["planks"][0]["broken_files"], 1)
        self.assertEqual(self.happens("two", "clone"), 200)
        self.happens("two", "unplug")
        self.assertFalse(self.room("two")["online"], "a clone with its mark is not the drive")
        self.assertEqual(
            [(one["name"], one["plugged"]) for one in self.get("standins/drives")],
            [("one", True), ("three", True), ("two", False), ("two clone", True)],
        )
        self.assertEqual((self.happens("../x", "rot"), self.happens("none", "plug")), (404, 409))

    def test_a_slow_one_takes_and_gives_its_bytes_no_faster_and_proves_what_it_did(self):
        self.happens("one", "slow")
        store = open_store(self.drives["one"])
        store.open()
        pieces = {"large": 3 * SLOW_BYTES_PER_S // 10, "small": SLOW_BYTES_PER_S // 10}
        started, pending = time.monotonic(), store.write("large", pieces["large"])
        pending.write(bytes(pieces["large"]))
        pending.end(0)
        written = [pending, *store.write_whole([Whole("small", memoryview(bytes(pieces["small"])), 0, None)])]
        self.assertEqual(store.commit(written), [None, None])
        took = time.monotonic() - started
        self.assertGreater(took, 0.35)
        read: list[int] = []
        self.assertEqual(store.read_back("large", lambda data: read.append(len(data))), Evidence.READ_BACK)
        self.assertEqual(sum(read), pieces["large"])
        store.read_back_small([ToRead("small", pieces["small"])], lambda index, data: read.append(len(data)))
        store.close()
        self.assertGreater(time.monotonic() - started - took, 0.35)
        self.assertEqual(read[-1], pieces["small"])

    def test_what_cannot_be_a_store_is_refused(self):
        words = {"name": "x", "device_name": "x", "medium": "ssd", "location": self.cart}
        taken = Path(self.drives["one"].path)
        with self.assertRaisesRegex(ActRefused, "already marked"):
            introduce_store(self.sol, self.production.pk, folder=taken, **words)
        with self.assertRaisesRegex(ActRefused, "cannot be used as a store"):
            introduce_store(self.sol, self.production.pk, folder=self.base / "none", **words)
        with self.assertRaisesRegex(ActRefused, "Only a lead wrangler or supervisor may change stores"):
            introduce_store(self.wren, self.production.pk, folder=taken, **words)
        self.assertEqual(Store.objects.count(), 3)

    def test_the_system_disk_needs_a_reason_and_never_counts(self):
        with tempfile.TemporaryDirectory(dir="/var/tmp") as folder:
            words = {"name": "x", "folder": Path(folder), "device_name": "x", "medium": "ssd", "location": self.cart}
            probe = SystemDeviceProbe()
            if not probe.is_system_disk(Path(folder)):
                self.skipTest("/var/tmp is not on the system disk here")
            with self.assertRaisesRegex(ActRefused, "system disk"):
                introduce_store(self.sol, self.production.pk, **words)
            store = introduce_store(self.sol, self.production.pk, **words, system_disk_reason="nothing else in the van")
            self.assertFalse(store.counts)

    def test_two_folders_of_one_disk_have_one_identity_whatever_the_probe(self):
        probe = SystemDeviceProbe()
        self.assertEqual(probe.under(self.base), probe.under(Path(self.drives["one"].path)))
        nested = make_drive(self.base / "n", identity="pretended", capacity=1) / "inner"
        nested.mkdir()
        twin = introduce_store(
            self.sol,
            self.production.pk,
            name="inner",
            folder=nested,
            device_name="other",
            medium="ssd",
            location=self.cart,
        )
        again = nested.parent / "second"
        again.mkdir()
        second = introduce_store(
            self.sol,
            self.production.pk,
            name="second",
            folder=again,
            device_name="third",
            medium="disk",
            location=self.office,
        )
        self.assertEqual(twin.device, second.device)
        self.assertFalse(Device.objects.filter(name="third").exists())


class Demo(TestCase):
    def test_it_opens_on_day_four_in_the_middle_of_work(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        with override_settings(VAR=Path(folder.name)):
            demo.set_up_demo(timezone.now() - timedelta(hours=3))
            station = demo.Station.objects.get(name=demo.STATION)
            look(station)
            line = waterline(Production.objects.get())
            standings = {case.card.label: case.standing for case in cases(active_cards())}
        self.assertEqual(line.rolls_below, ("Q001",))
        self.assertEqual(set(line.cards_waiting), {"A-03", "B-02", "C-01"})
        self.assertEqual({standings[label] for label in ("A-01", "B-01", "S-01", "R1-01")}, {"handed back"})
        self.assertEqual(
            (standings["A-03"], standings["B-02"], standings["S-02"]), ("not offloaded", *["not clear"] * 2)
        )
        page = page_of_rolls(Production.objects.get(), places_of_all())
        rolls = {case.standing.roll.tag: case for case in page.rolls}
        broken = [(tag, one.facts.store.name) for tag, case in rolls.items() for one in case.standing.copies
                  if one.facts.broken_files]  # fmt: skip
        self.assertEqual(broken, [("S001", "Cart SSD 2")])
        self.assertEqual({case.state.value for tag, case in rolls.items() if tag != "Q001"}, {"safe"})
        self.assertIsNone(find_broken_seal())
