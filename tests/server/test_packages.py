"""Rolls in sealed packages: a store like any other, opened on the Bench, taken from, never changed."""

import os
import subprocess
import tarfile
from pathlib import Path

from django.test import TestCase

from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.sources import MemorySource, list_card
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.stores.packages import PackageStore
from ruggedraft.core.transfer import Target, transfer
from ruggedraft.intake.models import Card, Insertion
from ruggedraft.intake.watching import look
from ruggedraft.journal.models import JournalEntry
from ruggedraft.offloads.after import said_to
from ruggedraft.offloads.models import Offload, OffloadFinding
from ruggedraft.reports.clip_lists import clips_listed
from ruggedraft.rolls.acts.look_at_copy import look_at_copy
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.standins import hub
from ruggedraft.stores.models import Store

from .deciding import Deciding
from .working import Working
from .world import World

VAULT = "three packages"


class Vault(World):
    def keep(self, store: str = "three", person=None):
        return self.post(f"stores/{store}/packages", person=person or self.sol)

    def setUp(self):
        super().setUp()
        self.assertEqual(self.keep().status_code, 200)
        look(self.station)
        self.vault = Store.objects.get(name=VAULT)
        self.plan.stores.add(self.vault)

    def package(self, part: str = "") -> Path:
        return hub.home() / "drives/three/packages/Heron/2026-05-14" / f"A001{part}.tar"

    def plank(self, store: str = VAULT) -> dict:
        roll = self.get("tally/rolls/A001")["roll"]
        return next(one for one in roll["planks"] if one["store"] == store)


class Kept(Vault, Deciding, TestCase):
    def test_the_card_goes_into_a_package_in_the_same_reading(self):
        self.offload()
        self.assertEqual(Offload.objects.get().end, RunEnd.WELL)
        plank = self.plank()
        self.assertEqual((plank["state"], plank["files"], plank["sealed"]), ("verified", 4, True))
        self.assertFalse(self.plank("one")["sealed"])
        there = self.base / "unpacked"
        there.mkdir()
        subprocess.run(["tar", "-xf", self.package(), "-C", there], check=True, capture_output=True)
        subprocess.run(["diff", "-r", self.card_folder / "DCIM", there / "A001/DCIM"], check=True)
        self.assertEqual((there / "A001" / os.fsdecode(b"line\nbreak \\ caf\xe9")).read_bytes(), b"odd")
        names = sorted(path.name for path in self.package().parent.iterdir())
        self.assertEqual(names, ["A001.record.json", "A001.tar", "A001.xxh128"])

    def test_it_is_one_device_with_the_drive_that_it_lies_on(self):
        self.plan.stores.set([self.drives["three"], self.vault])
        self.offload()
        self.assertTrue(self.plank()["same_device"])
        self.assertIn("1 of 2 separate devices", str(self.standing()["blocks"]))

    def test_a_package_is_made_of_a_verified_copy(self):
        self.plan.stores.set([self.drives["one"], self.drives["two"]])
        self.offload()
        answer = self.post(f"bench/rolls/{Roll.objects.get().pk}/bring", {"store": VAULT})
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertFalse(self.plank()["sealed"], "it is asked for, and there is none yet")
        self.run_all()
        plank = self.plank()
        self.assertEqual((plank["state"], plank["files"], plank["sealed"]), ("verified", 4, True))
        self.assertEqual(tarfile.open(self.package()).getnames()[0].split("/")[0], "A001")  # noqa: SIM115

    def test_damage_is_found_by_the_next_check_and_named(self):
        roll = self.offload()
        self.package().chmod(0o644)
        facts = self.package().stat()
        with self.package().open("r+b") as file:
            at = file.read().index(b"two" * 100) + 30
            file.seek(at)
            file.write(b"?")
        os.utime(self.package(), ns=(facts.st_atime_ns, facts.st_mtime_ns))
        self.check(roll, VAULT)
        self.assertNotEqual(self.plank()["state"], "verified")
        self.assertEqual(self.plank()["broken_files"], 1)
        self.assertIn("AAAA0002.JPG", str(self.get("tally/rolls/A001")))
        self.start()
        self.run_all()
        self.assertNotEqual(self.plank()["state"], "verified", "nothing is mended in a package")
        said = list(OffloadFinding.objects.values_list("reason", flat=True))
        self.assertIn("never changed: move the package away", str(said))
        self.package().rename(self.base / "aside.tar")
        self.check(roll, VAULT)
        self.start()
        self.run_all()
        self.assertEqual(self.plank()["state"], "verified", "and with it away there is room for a good one")

    def test_a_package_that_is_gone_or_was_written_to_does_not_count(self):
        self.offload()
        copy = Copy.objects.select_related("roll", "store__device").get(store=self.vault)
        self.package().chmod(0o644)
        with self.package().open("ab") as file:
            file.write(b"more")
        look_at_copy(copy)
        self.assertNotEqual(self.plank()["state"], "verified")
        self.package().unlink()
        look_at_copy(copy)
        self.assertNotEqual(self.plank()["state"], "verified")
        self.assertEqual(self.plank()["broken_files"], 4)

    def test_what_comes_to_the_roll_later_has_a_package_of_its_own(self):
        self.offload()
        first = self.package().read_bytes()
        (self.card_folder / "DCIM/100AAAAA/AAAA0003.JPG").write_bytes(b"three")
        self.put_in("A-01")
        self.assertEqual(self.start().status_code, 200)
        self.run_all()
        self.assertEqual((self.plank()["state"], self.plank()["files"]), ("verified", 5))
        self.assertEqual(self.package().read_bytes(), first)
        self.assertTrue(self.package(".part2").is_file())

    def test_nothing_is_written_into_it_afterwards(self):
        self.plan.mhl = self.plan.sidecars = True
        self.plan.save()
        self.stills()
        self.offload()
        self.assertEqual([*OffloadFinding.objects.values_list("store__name", "reason")], [])
        before = self.package().read_bytes()
        self.assertTrue((self.on_drive("one") / "ascmhl").is_dir())
        self.assertEqual(self.package().read_bytes(), before)

    def test_where_its_files_lie_is_said_as_it_is(self):
        self.offload()
        found = self.get("find?text=AAAA0002")
        places = {one["store"]: one["path"] for one in found["files"][0]["places"]}
        self.assertEqual(places[VAULT], "Heron/2026-05-14/A001.tar/DCIM/100AAAAA/AAAA0002.JPG")
        (said,) = [one for one in said_to(Offload.objects.get())["copies"] if one["store"] == VAULT]
        self.assertEqual((said["folder"], said["package"]), (None, str(self.package())))
        Copy.objects.exclude(store=self.vault).update(folder="elsewhere")
        self.assertTrue(all(one.path.startswith("elsewhere/") for one in clips_listed(Roll.objects.get())))

    def test_who_may_and_what_is_refused(self):
        self.assertEqual(self.keep("one", self.wren).status_code, 403)
        self.refused(self.keep(), "There is a store 'three packages' already")
        self.refused(self.keep(VAULT), "no drive in service")
        said = {"name": VAULT, "landing": True, "seals": False}
        self.refused(self.post(f"stores/{VAULT}", said, self.sol, method="put"), "nothing is ever taken out of")
        self.offload()
        self.refused(self.post("stores/one/packages/A001/open", person=self.sol), "keeps no sealed package")
        self.assertEqual(self.post(f"stores/{VAULT}/packages/A001/open").status_code, 403)


class OnTheBench(Vault, Deciding, TestCase):
    def open_it(self) -> dict:
        self.assertEqual(self.post(f"stores/{VAULT}/packages/A001/open", person=self.sol).status_code, 200)
        return self.on_the_bench()

    def on_the_bench(self) -> dict:
        look(self.station)
        return next(one for one in self.get("bench")["slots"] if one["kind"] == "package")

    def introduce(self, slot: dict, label: str) -> Card:
        said = {"label": label, "camera": "A"}
        answer = self.post(f"bench/insertions/{slot['insertion_id']}/introduce", said)
        self.assertEqual(answer.status_code, 200, answer.content)
        look(self.station)
        return Card.objects.get(label=label)

    def test_it_hangs_there_like_a_card_that_is_always_in(self):
        self.offload()
        slot = self.open_it()
        self.assertEqual((slot["listing"]["files"], slot["listing"]["bytes"]), (4, 603_003))
        self.assertIn("A sealed package, and no card.", slot["identity"]["question"])
        said = self.get(f"bench/insertions/{slot['insertion_id']}/contents")
        self.assertEqual((said["clips"]["holdings"], said["clips"]["rolls"]), (["alike"] * 2, ["A001"] * 2))
        waiting = self.get("waterline")["cards_waiting"]
        self.assertEqual([one for one in waiting if "package" in one], [], "nothing in it waits to be saved")
        self.assertEqual((slot["identity"]["candidates"], slot["card_id"]), ([], None))

    def test_it_never_passes_for_a_card_and_no_card_for_it(self):
        """What is in a package says nothing of what is on the card that it was made of."""
        self.offload()
        slot = self.open_it()
        hub.remove("slot-1")
        look(self.station)
        said = self.post(f"bench/insertions/{slot['insertion_id']}/recognise", {"label": "A-01"})
        self.refused(said, "a sealed package, and no card")
        self.introduce(slot, "A001 in the vault")
        self.post("bench/folders", {"path": str(self.package()), "is_reader": False}, self.sol, "put")
        look(self.station)
        hub.insert("A-01", "slot-1")
        look(self.station)
        stay = Insertion.objects.get(card__label="A-01", removed_at=None)
        Insertion.objects.filter(pk=stay.pk).update(card=None)
        said = self.post(f"bench/insertions/{stay.pk}/recognise", {"label": "A001 in the vault"})
        self.refused(said, "a sealed package, and no card")

    def test_one_that_comes_from_elsewhere_is_offloaded_like_a_card(self):
        home = self.base / "from elsewhere"
        home.mkdir()
        card = MemorySource(
            {"CLIP/C1.MOV": b"moving" * 100_000, "CLIP/C1.XML": b"<x/>"}, modified_ns=1_778_749_200 * 10**9
        )
        target = Target(PackageStore(LocalStore("theirs", home), home), "B007")
        transfer(card, list_card(card), [target], algorithm_named("xxh128"))
        said = {"path": str(home / "B007.tar"), "is_reader": True, "finals": False}
        self.assertEqual(self.post("bench/folders", said, method="put").status_code, 403)
        self.assertEqual(self.post("bench/folders", said, self.sol, method="put").status_code, 200)
        made = self.introduce(self.on_the_bench(), "their B007")
        roll = self.offload(made)
        self.assertEqual(self.planks(roll.tag)["one"], ("verified", 2))
        self.assertEqual((self.on_drive("one", roll) / "CLIP/C1.MOV").read_bytes(), b"moving" * 100_000)
        self.look_at_everything()
        case = self.get(f"cards/{made.label}")["case"]
        self.assertEqual(case["standing"], "package")
        self.assertIn("no card: nothing of it is cleared", case["sentence"])
        words = {"tag": roll.tag, "digest": case["digest"]}
        self.refused(self.post(f"clearing/cards/{made.pk}/sign", words), "is a sealed package")
        self.assertNotEqual(self.post(f"clearing/cards/{made.pk}/removal", words).status_code, 200)
        self.assertNotIn(made.label, [one["label"] for one in self.get("clearing")["cards"]])

    def test_what_is_no_package_is_refused(self):
        (self.base / "x.tar").write_bytes(b"not an archive")
        for path, words in (
            (self.base / "x.tar", "is no package that can be opened"), (self.base / "none.tar", "is no package"),
            (self.base, "Copies are kept in"),
        ):  # fmt: skip
            said = {"path": str(path), "is_reader": True, "finals": False}
            self.refused(self.post("bench/folders", said, self.sol, method="put"), words)


class TakenFrom(Working, Vault, TestCase):
    def test_a_clip_comes_back_from_it(self):
        for store in ("one", "two"):
            hub.home().joinpath("unplugged").mkdir(exist_ok=True)
            (hub.home() / "drives" / store).rename(hub.home() / "unplugged" / store)
        look(self.station)
        path = "DCIM/100AAAAA/AAAA0002.JPG"
        self.at(path).unlink()
        found = self.look_into()
        run = self.bring(found)
        self.assertEqual(run.end, RunEnd.WELL)
        self.assertTrue(self.is_as_on_card(path, self.at(path)))
        self.assertIn(f"from '{VAULT}'", JournalEntry.objects.latest("pk").sentence)
