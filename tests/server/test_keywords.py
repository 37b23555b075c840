"""Keywords, captions and rights, said of many files later: found by, and read back by exiftool beside every copy.

exiftool is the general-purpose reference: it reads the sidecars as other programs do.
"""

import json
import subprocess
from pathlib import Path

from django.test import TestCase

from ruggedraft.core.sources import from_ledger
from ruggedraft.journal.models import JournalEntry
from ruggedraft.keywords.models import Beside, Saying
from ruggedraft.keywords.writing import write_due
from ruggedraft.making_room import running as making_room
from ruggedraft.making_room.models import MakingRoom
from ruggedraft.productions.models import Plan
from ruggedraft.rolls.models import RollFile
from ruggedraft.standins import card_maker
from ruggedraft.stores.models import Store, StoreSighting

from .world import FILES, SHOT, World

ONE, TWO = "DCIM/100AAAAA/AAAA0001.JPG", "DCIM/100AAAAA/AAAA0002.JPG"


class Keywords(World):
    def setUp(self):
        super().setUp()
        self.roll = self.offload()

    def say(self, *paths: str, **words):
        files = [{"tag": "A001", "path": path} for path in paths or (ONE,)]
        return self.post("keywords", {"files": files, **words})

    def said(self, path: str = ONE) -> dict | None:
        found = self.get(f"find?text={path.rpartition('/')[2]}")["files"]
        return next(one["said"] for one in found if one["clip"]["path"] == path)

    def found(self, text: str) -> list[str]:
        return [one["clip"]["path"] for one in self.get(f"find?text={text}")["files"]]

    def beside(self, store: str, path: str = ONE) -> Path:
        return (self.on_drive(store) / path).with_suffix(".xmp")

    def exiftool(self, path: Path) -> dict:
        """As exiftool tells it, but for what is the file's own."""
        said = subprocess.run(["exiftool", "-j", "-XMP-dc:all", str(path)], check=True, capture_output=True, text=True)
        (found,) = json.loads(said.stdout)
        found.pop("SourceFile")
        return found

    def originals(self, store: str) -> bool:
        compared = [
            subprocess.run(["cmp", "-s", str(self.card_folder / path), str(self.on_drive(store) / path)], check=False)
            for path in FILES
        ]
        return all(one.returncode == 0 for one in compared)


class Saying_(Keywords, TestCase):
    def test_files_are_found_by_what_was_said_of_them_together_with_anything_else(self):
        self.assertEqual(self.say(ONE, TWO, add=["Fog", "harbour bell"]).json(), {"files": 2})
        self.say(ONE, caption="The bell buoy at dawn", rights="© Marrow Productions")
        self.assertEqual(sorted(self.found("fog")), [ONE, TWO])
        self.assertEqual(self.found("fog dawn"), [ONE])
        self.assertEqual(self.found("marrow A001"), [ONE])
        self.assertEqual(self.found("bell AAAA0002"), [TWO])
        self.assertEqual(self.found("smog"), [])
        said = self.said()
        self.assertEqual(
            (said["keywords"], said["caption"], said["rights"]),
            (["fog", "harbour bell"], "The bell buoy at dawn", "© Marrow Productions"),
        )
        self.assertEqual(self.get("find?text=zero")["files"][0]["said"], None)

    def test_what_holds_no_more_is_not_found_by_and_the_journal_keeps_it(self):
        self.say(add=["fog", "dawn"], rights="theirs")
        self.assertEqual(self.say(remove=["FOG"], rights="ours").json(), {"files": 1})
        self.assertEqual((self.found("fog"), self.found("theirs"), self.found("ours")), ([], [], [ONE]))
        self.assertEqual(self.say(rights="").json(), {"files": 1})
        self.assertEqual((self.said()["keywords"], self.said()["rights"]), (["dawn"], ""))
        sentences = JournalEntry.objects.filter(act="say of files").order_by("pk").values_list("sentence", flat=True)
        self.assertEqual(list(sentences)[1], "Of 1 file of A001: not fog any more; rights 'ours'.")
        self.assertEqual(Saying.objects.count(), 4, "what was said stays, with when it ended")

    def test_the_same_again_changes_nothing(self):
        self.say(add=["fog"])
        self.assertEqual(self.say(add=["Fog ", "fog"]).json(), {"files": 0})
        self.assertEqual(Saying.objects.count(), 1)

    def test_a_file_of_which_nothing_changed_is_waited_for_nowhere(self):
        self.say(ONE, add=["fog"])
        self.assertEqual(self.say(ONE, TWO, remove=["fog"]).json(), {"files": 1})
        self.assertIsNone(self.said(TWO))

    def test_earlier_words_are_proposed_the_usual_ones_first(self):
        self.say(ONE, TWO, add=["harbour bell"])
        self.say(ONE, add=["fog", "bell buoy"])
        self.assertEqual(self.get("keywords")["keywords"], ["harbour bell", "bell buoy", "fog"])
        self.assertEqual(self.get("keywords?text=bel")["keywords"], ["harbour bell", "bell buoy"])
        self.assertEqual(self.get("keywords?text=.*")["keywords"], [])
        self.assertEqual(self.get("keywords?text=%5C")["keywords"], [])

    def test_what_cannot_be_said_is_refused_and_nothing_is_kept(self):
        for words, status in (
            ({}, 409), ({"add": ["a, b"]}, 409), ({"add": ["x" * 65]}, 409), ({"caption": "x" * 2001}, 409),
            ({"add": [f"w{n}" for n in range(51)]}, 409),
        ):  # fmt: skip
            with self.subTest(words):
                self.assertEqual(self.say(**words).status_code, status)
        self.assertEqual(self.say("NONE.JPG", add=["fog"]).status_code, 404)
        self.assertEqual(self.say(ONE, "NONE.JPG", add=["fog"]).status_code, 404)
        many = self.post("keywords", {"files": [{"tag": "A001", "path": ONE}] * 1001, "add": ["fog"]})
        self.assertEqual(many.status_code, 422)
        self.assertEqual(Saying.objects.count(), 0)


class Beside_(Keywords, TestCase):
    def test_it_is_written_beside_the_copies_that_are_there_and_waits_for_the_others(self):
        StoreSighting.objects.filter(store__name="two").update(online=False)
        self.say(ONE, TWO, add=["fog", "bell & buoy"], caption="<dawn>", rights="© 2026 Marrow")
        self.assertEqual((self.said()["beside"], self.said()["waiting"]), ([], ["one", "two"]))
        self.assertEqual(write_due(self.station), 2)
        self.assertEqual(
            self.exiftool(self.beside("one")),
            {"Subject": ["bell & buoy", "fog"], "Description": "<dawn>", "Rights": "© 2026 Marrow"},
        )
        self.assertEqual(self.exiftool(self.beside("one", TWO))["Subject"], ["bell & buoy", "fog"])
        self.assertFalse(self.beside("two").exists())
        self.assertEqual((self.said()["beside"], self.said()["waiting"]), (["one"], ["two"]))
        StoreSighting.objects.filter(store__name="two").update(online=True)
        self.assertEqual((write_due(self.station), write_due(self.station)), (2, 0), "each once")
        self.assertEqual(self.exiftool(self.beside("two")), self.exiftool(self.beside("one")))
        self.assertTrue(self.originals("one") and self.originals("two"))
        self.check(self.roll, "one")
        self.assertEqual(self.roll.runs.latest("pk").end, "well", "the copy is what it was")
        self.look_at_everything()
        self.assertEqual(self.get("tally")["rolls"][0]["planks"][0]["state"], "verified")

    def test_what_is_said_anew_replaces_what_we_left_and_nothing_else(self):
        self.say(add=["fog"])
        write_due(self.station)
        self.say(add=["dawn"], remove=["fog"])
        self.beside("two").write_bytes(b"<edited by somebody/>")
        write_due(self.station)
        self.assertEqual(self.exiftool(self.beside("one")), {"Subject": "dawn"})
        self.assertEqual(self.beside("two").read_bytes(), b"<edited by somebody/>")
        self.assertEqual(self.said()["beside"], ["one"])
        (trouble,) = self.said()["trouble"]
        self.assertIn("two: DCIM/100AAAAA/AAAA0001.xmp says something that is not known to be ours", trouble)
        self.assertEqual(write_due(self.station), 0, "and it is not tried again and again")

    def test_a_sidecar_of_the_camera_stays_and_ours_gets_another_name(self):
        RollFile.objects.filter(path="zero").update(path="DCIM/100AAAAA/AAAA0001.XMP")
        self.say(add=["fog"])
        write_due(self.station)
        self.assertFalse(self.beside("one").exists())
        other = self.on_drive("one") / f"{ONE}.xmp"
        self.assertEqual(self.exiftool(other), {"Subject": "fog"})

    def test_names_that_renaming_gave_are_followed(self):
        RollFile.objects.filter(path=ONE).update(kept_as="DCIM/100AAAAA/RENAMED.JPG")
        for store in ("one", "two"):
            (self.on_drive(store) / ONE).rename(self.on_drive(store) / from_ledger("DCIM/100AAAAA/RENAMED.JPG"))
        self.say(add=["fog"])
        write_due(self.station)
        self.assertEqual(self.exiftool(self.on_drive("one") / "DCIM/100AAAAA/RENAMED.xmp"), {"Subject": "fog"})

    def test_a_copy_that_does_not_hold_the_file_is_told_and_gets_it_with_the_file(self):
        (self.on_drive("two") / ONE).unlink()
        self.look_at_everything()
        self.say(add=["fog"])
        write_due(self.station)
        self.assertFalse(self.beside("two").exists())
        self.assertEqual(self.said()["trouble"], ["two: the store is not known to hold the file"])
        (self.on_drive("two") / ONE).write_bytes(FILES[ONE])
        self.check(self.roll, "two")
        write_due(self.station)
        self.assertEqual(self.said()["beside"], ["one", "two"])

    def test_a_drive_that_is_full_or_gone_in_the_middle_is_no_harm(self):
        self.say(add=["fog"])
        Store.objects.filter(name="one").update(path=str(self.base / "nowhere"))
        self.assertEqual(write_due(self.station), 1)
        self.assertEqual((self.said()["beside"], self.said()["waiting"]), (["two"], ["one"]))

    def test_nothing_is_written_while_something_else_is_done_with_the_roll(self):
        self.say(add=["fog"])
        self.post(f"copies/{self.roll.copies.first().pk}/check")
        self.assertEqual(write_due(self.station), 0)

    def test_an_offload_that_goes_on_does_not_stumble_over_what_was_said_since(self):
        Plan.objects.update(sidecars=True, creator="Sol")
        card_maker.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0007.JPG", b"new", SHOT)
        self.look_at_everything()
        self.offload()
        self.assertEqual(self.roll.runs.latest("pk").end, "well", self.roll.runs.latest("pk").outcome)
        self.say(add=["fog"])
        write_due(self.station)
        self.assertEqual(self.exiftool(self.beside("one")), {"Creator": "Sol", "Subject": "fog"})
        card_maker.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0008.JPG", b"newer", SHOT)
        self.look_at_everything()
        self.offload()
        self.assertEqual(self.roll.runs.latest("pk").end, "well", self.roll.runs.latest("pk").outcome)
        self.assertEqual(self.exiftool(self.beside("one")), {"Creator": "Sol", "Subject": "fog"})

    def test_what_was_left_goes_with_a_copy_that_makes_room(self):
        self.plan.stores.set(Store.objects.filter(name__in=("one", "two", "three")))
        self.post(f"bench/rolls/{self.roll.pk}/bring", {"store": "three"})
        from ruggedraft.offloads.feeding import carry_out as feed

        feed(self.roll.runs.latest("pk").pk)
        self.say(*RollFile.objects.values_list("path", flat=True), add=["fog"])
        write_due(self.station)
        self.assertTrue(self.beside("three").exists())
        self.look_at_everything()
        self.post("tally/deliveries", {"tags": ["A001"], "to": "them"})
        (shown,) = self.get("room?store=three&months=0")["going"]
        rolls = [{name: shown[name] for name in ("tag", "files", "bytes")}]
        self.post("room", {"store": "three", "months": 0, "rolls": rolls}, self.person("Lea", "lead"))
        making_room.carry_out(MakingRoom.objects.get().pk)
        self.assertFalse(self.on_drive("three").exists())
        self.assertEqual(write_due(self.station), 0)
        self.post(f"bench/rolls/{self.roll.pk}/bring", {"store": "three"})
        feed(self.roll.runs.latest("pk").pk)
        self.assertEqual(write_due(self.station), len(FILES), "it comes back with the copy")
        self.assertEqual(self.exiftool(self.beside("three")), {"Subject": "fog"})
        self.assertEqual(Beside.objects.exclude(trouble="").count(), 0)
