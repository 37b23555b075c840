"""ASC MHL histories beside copies: verified by the standard's reference, and never over what is not ours."""

import subprocess
import sys
from pathlib import Path

from django.test import TestCase

from ruggedraft.core.manifests.mhl import read_history, verify_history
from ruggedraft.core.manifests.mhl.history import read_in
from ruggedraft.offloads.models import Feed, OffloadFinding
from ruggedraft.rolls.models import BesideCopy, Copy
from ruggedraft.standins import hub

from .deciding import Deciding
from .world import FILES

REFERENCE = Path(sys.executable).with_name("ascmhl-debug")


class Histories(Deciding, TestCase):
    def setUp(self):
        super().setUp()
        self.blank_card()
        for path, content in FILES.items():
            if "\n" not in path:  # XML cannot hold such a name
                (self.card_folder / path).parent.mkdir(parents=True, exist_ok=True)
                (self.card_folder / path).write_bytes(content)
        self.put_in("A-01")
        self.assertEqual(self.change_plan(mhl=True), 200)

    def folder(self, store: str = "one") -> Path:
        return hub.home() / "drives" / store / Copy.objects.get(store__name=store).folder

    def generations(self, store: str = "one"):
        return read_history(read_in(self.folder(store))).generations

    def go(self) -> None:
        answer = self.start()
        self.assertEqual(answer.status_code, 200, answer.content)
        self.run_all()

    def test_each_copy_has_one_that_the_reference_verifies(self):
        self.go()
        for store in ("one", "two"):
            self.assertEqual(verify_history(self.folder(store)).findings, [])
            done = subprocess.run([REFERENCE, "verify", self.folder(store)], capture_output=True)
            self.assertEqual(done.returncode, 0, done.stdout)
            (first,) = self.generations(store)
            self.assertEqual(first.process, "transfer")
            self.assertEqual({file.path for file in first.files}, {one["kept_as"] for one in self.account()})
        self.assertEqual(BesideCopy.objects.filter(path__contains="/ascmhl/").count(), 4)

    def account(self) -> list[dict]:
        made = self.post("accounts/roll/A001", {}).json()["id"]
        (roll,) = self.get(f"accounts/editions/{made}/account.json")["account"]["rolls"]
        for copy in roll["copies"]:
            self.assertTrue(any("/ascmhl/" in one["path"] for one in copy["beside"]), "the list of lists")
        return roll["files"]

    def test_the_looks_and_checks_of_its_copy_mind_nothing(self):
        self.go()
        self.look_at_everything()
        self.assertEqual(self.planks()["one"], ("verified", 3))

    def test_a_run_that_brings_nothing_adds_none_and_one_that_does_adds_one(self):
        self.go()
        self.go_again()
        self.assertEqual(len(self.generations()), 1)
        (self.card_folder / "DCIM/100AAAAA/AAAA0003.JPG").write_bytes(b"three")
        self.put_in("A-01")
        self.go()
        first, second = self.generations()
        self.assertEqual(len(first.files), 3)
        self.assertEqual(len(second.files), 4, "all of the card was read again")
        self.assertEqual(verify_history(self.folder()).findings, [])

    def go_again(self) -> None:
        copy = Copy.objects.get(store__name="one")
        next(self.folder().rglob("AAAA0002.JPG")).unlink()
        self.look_at_everything()
        self.assertEqual(self.post(f"bench/rolls/{copy.roll_id}/bring", {"store": "one"}).status_code, 200)
        self.run_all()
        self.assertTrue(Feed.objects.exists())
        self.assertEqual(self.planks()["one"], ("verified", 3))

    def test_what_is_not_ours_is_left_alone_and_told(self):
        self.go()
        chain = self.folder() / "ascmhl" / "ascmhl_chain.xml"
        subprocess.run([REFERENCE.with_name("ascmhl"), "create", self.folder()], check=True, capture_output=True)
        kept = chain.read_bytes()
        (self.card_folder / "DCIM/100AAAAA/AAAA0003.JPG").write_bytes(b"three")
        self.put_in("A-01")
        self.go()
        self.assertEqual(chain.read_bytes(), kept)
        self.assertIn("not known to be ours", str(self.get("tally/rolls/A001")) + self.last_findings())
        self.assertEqual(self.planks()["one"], ("verified", 4), "its files are safe all the same")

    def test_a_worker_killed_before_it_noted_the_chain_does_not_end_the_history(self):
        self.go()
        BesideCopy.objects.filter(path__endswith="ascmhl_chain.xml").delete()
        (self.card_folder / "DCIM/100AAAAA/AAAA0003.JPG").write_bytes(b"three")
        self.put_in("A-01")
        self.go()
        self.assertEqual((len(self.generations()), self.last_findings()), (2, ""))
        self.assertEqual(verify_history(self.folder()).findings, [])

    def test_of_a_run_that_took_some_files_it_says_only_those(self):
        self.go()
        (self.card_folder / "DCIM/100AAAAA/AAAA0003.JPG").write_bytes(b"three")
        self.put_in("A-01")
        self.assertEqual(self.start(only_new=True).status_code, 200)
        self.run_all()
        _, second = self.generations()
        self.assertEqual([file.path for file in second.files], ["DCIM/100AAAAA/AAAA0003.JPG"])
        self.assertEqual(second.folders, {})
        self.assertEqual(verify_history(self.folder()).agreed, 4)

    def test_an_empty_folder_of_the_card_is_no_fault(self):
        (self.card_folder / "MISC").mkdir()
        self.put_in("A-01")
        self.go()
        self.assertEqual(verify_history(self.folder()).findings, [])

    def last_findings(self) -> str:
        return " ".join(OffloadFinding.objects.values_list("reason", flat=True))

    def test_a_card_that_brings_a_history_of_its_own_keeps_it_untouched(self):
        (self.card_folder / "ascmhl").mkdir()
        (self.card_folder / "ascmhl" / "ascmhl_chain.xml").write_bytes(b"<theirs/>")
        self.put_in("A-01")
        self.go()
        self.assertEqual((self.folder() / "ascmhl" / "ascmhl_chain.xml").read_bytes(), b"<theirs/>")
        self.assertEqual(self.planks()["one"], ("verified", 4))

    def test_a_plan_without_a_checksum_that_it_knows_is_refused(self):
        self.assertEqual(self.change_plan(mhl=True, algorithm="sha256"), 409)
        self.assertEqual(self.change_plan(mhl=True, algorithm="sha256", more_algorithms=["md5"]), 200)
        self.go()
        (first,) = self.generations()
        self.assertEqual({name for file in first.files for name in file.sums}, {"md5"})

    def test_a_folder_that_holds_several_rolls_gets_none(self):
        self.assertEqual(self.change_plan(mhl=True, folder="{production}/{date}", names="{roll}_{name}"), 200)
        self.go()
        self.assertFalse((self.folder() / "ascmhl").exists())
