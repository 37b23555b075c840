"""Working files that were deleted, renamed, moved or damaged are seen; what is seen is no evidence of any copy.

What an editor does to a folder is done with the shell's own programs.
"""

import shutil
import subprocess
from pathlib import Path
from unittest.mock import patch

import opentimelineio as otio
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from ruggedraft.intake.watching import look
from ruggedraft.kit.models import Station
from ruggedraft.returning.looking import carry_out_look
from ruggedraft.returning.models import FolderLook
from ruggedraft.rolls.models import Reading
from ruggedraft.standins import hub
from ruggedraft.standins.drives import make_drive
from ruggedraft.stores.probe import device_probe

from .working import ONE, TWO, Working
from .world import FILES


class Looking(Working, TestCase):
    def test_a_folder_in_which_everything_is_as_it_was_says_so_and_no_more(self):
        found = self.look_into()
        self.assertEqual(found["rows"], [])
        self.assertEqual((found["look"]["expected"], found["look"]["same"]), (len(FILES), len(FILES)))
        self.assertEqual((found["look"]["trouble"], found["look"]["going"]), ("", False))

    def test_what_was_deleted_renamed_moved_or_damaged_is_told_by_content(self):
        self.at("zero").unlink()
        subprocess.run(["mkdir", str(self.edit / "best")], check=True)
        subprocess.run(["mv", str(self.at(ONE)), str(self.edit / "best" / "take 5.jpg")], check=True)
        subprocess.run(["dd", "if=/dev/zero", f"of={self.at(TWO)}", "bs=1", "seek=70", "count=3", "conv=notrunc"],
                       check=True, capture_output=True)  # fmt: skip
        found = self.look_into()
        self.assertEqual(
            sorted(self.told(found)),
            [("different", f"A001/{TWO}", ""), ("missing", "A001/zero", ""),
             ("moved", f"A001/{ONE}", "best/take 5.jpg")],
        )  # fmt: skip
        self.assertEqual({row["tag"] for row in found["rows"]}, {"A001"})

    def test_a_file_that_stands_alone_under_another_name_is_known_by_its_content(self):
        alone = make_drive(self.base / "sent", identity="sent", capacity=10**9)
        subprocess.run(["cp", str(self.at(TWO)), str(alone / "for the client.jpg")], check=True)
        (alone / "note.txt").write_bytes(b"x" * self.at(ONE).stat().st_size)
        found = self.look_into(alone)
        [row] = found["rows"]
        self.assertEqual((row["kind"], row["path"], row["tag"], row["reason"]),
                         ("renamed", "for the client.jpg", "A001", TWO))  # fmt: skip
        self.assertEqual(self.look_into(alone, by_content=False)["rows"], [])
        refused = self.post(f"returns/looks/{found['look']['id']}/returns", {"rows": [row["n"]]})
        self.assertEqual(refused.status_code, 409)

    def test_a_sidecar_of_a_roll_that_somebody_edited_is_not_as_it_was(self):
        card, _ = self.new_card("A-02", {"CLIP/C1.MOV": b"one", "CLIP/C1.XMP": b"<x/>"})
        hub.insert("A-02", "slot-2")
        look(self.station)
        self.offload(card)
        shutil.copytree(self.on_drive("one", "A002") / "CLIP", self.edit / "A002" / "CLIP")
        (self.edit / "A002/CLIP/C1.XMP").write_bytes(b"<edited/>")
        (self.edit / "A002/CLIP/C2.XMP").write_bytes(b"<new/>")
        found = self.look_into()
        self.assertEqual(self.told(found), [("different", "A002/CLIP/C1.XMP", "")])
        self.assertEqual((found["look"]["expected"], found["look"]["same"]), (len(FILES) + 2, len(FILES) + 1))

    def test_by_names_and_sizes_a_changed_byte_is_not_seen_and_nothing_is_read(self):
        self.at(TWO).write_bytes(b"X" * self.at(TWO).stat().st_size)
        with patch("ruggedraft.core.stores.LocalStore.read_back", side_effect=AssertionError("nothing is read")):
            found = self.look_into(by_content=False)
        self.assertEqual((found["rows"], found["look"]["by_content"]), ([], False))

    def test_looking_is_no_evidence_of_any_copy_and_changes_nothing(self):
        before = sorted((str(path), path.stat().st_mtime_ns) for path in self.drive_folder.rglob("*"))
        readings, standing = Reading.objects.count(), self.standing()
        self.look_into()
        self.assertEqual((Reading.objects.count(), self.standing()), (readings, standing))
        self.assertEqual(sorted((str(path), path.stat().st_mtime_ns) for path in self.drive_folder.rglob("*")), before)

    def test_a_project_s_list_says_what_belongs_where(self):
        shutil.rmtree(self.edit)
        self.edit.mkdir()
        (self.edit / "unrelated.txt").write_text("hello")
        track = otio.schema.Track("V1")
        for url in (f"file:///E:/jobs/barge/A001/{ONE}", "file:///E:/jobs/barge/zero", "x/NEVER_0001.MOV"):
            track.append(otio.schema.Clip("x", media_reference=otio.schema.ExternalReference(target_url=url)))
        data = otio.adapters.write_to_string(otio.schema.Timeline("barge", tracks=[track]), "otio_json").encode()
        client = self._same_client(self.wren)
        upload = {"file": SimpleUploadedFile("barge.otio", data)}
        listed = client.post("/api/productions/heron/returns/lists", upload, headers={"host": "localhost"}).json()
        self.assertEqual(len(listed["paths"]), 3)
        found = self.look_into(list_name="barge.otio", paths=listed["paths"])
        self.assertEqual(
            sorted(self.told(found)),
            [("missing", f"A001/{ONE}", ""), ("missing", "zero", ""), ("unknown", "x/NEVER_0001.MOV", "")],
        )
        self.assertEqual(found["unknown"], 1)
        run = self.bring(found)
        self.assertEqual(run.end, "well", run.outcome)
        self.assertTrue(self.is_as_on_card(ONE, self.at(ONE)))
        self.assertEqual((self.edit / "zero").read_bytes(), b"")
        self.assertEqual(self.look_into(list_name="barge.otio", paths=listed["paths"])["rows"][0]["kind"], "unknown")

    def test_a_name_that_several_rolls_have_is_not_guessed(self):
        card, _ = self.new_card("A-02", {ONE: b"another picture"})
        hub.insert("A-02", "slot-2")

        look(self.station)
        self.offload(card)
        found = self.look_into(list_name="x.csv", paths=["AAAA0001.JPG", f"e:/x/A002/{ONE}"])
        self.assertEqual(sorted(kind for kind, *_ in self.told(found)), ["missing", "unknown"])
        self.assertIn("hold different things", next(row["reason"] for row in found["rows"] if row["kind"] == "unknown"))

    def test_what_cannot_be_looked_into_is_said(self):
        for folder, words in ((self.base / "nowhere", "There is no folder"), (self.at(ONE), "There is no folder")):
            found = self.look_into(folder)
            self.assertIn(words, found["look"]["trouble"])
        for system in ("/", "/etc", "/proc/self"):
            self.assertIn("belongs to the computer's system", self.look_into(Path(system))["look"]["trouble"])
        for folder in ("relative/x", "", "/a/../etc", "/x\0y"):
            self.assertIn(self.post("returns/looks", {"station": "cart", "folder": folder}).status_code, (400, 409))
        Station.objects.create(name="van", role="raft_station_van")
        answer = self.post("returns/looks", {"station": "van", "folder": "/media/x"})
        self.assertIn("is away", answer.json()["title"])
        self.assertEqual(self.post("returns/looks", {"station": "cart", "folder": "/x"}, self.pip).status_code, 403)

    def test_a_drive_that_is_swapped_while_it_is_looked_into_says_nothing(self):
        real = device_probe().under(self.edit)
        with patch("ruggedraft.returning.looking.lies_on", side_effect=[sorted(real), ["another"]]):
            found = self.look_into()
        self.assertEqual((found["look"]["trouble"], found["rows"]), ("another drive is there now: look again", []))

    def test_one_that_was_stopped_found_nothing(self):
        answer = self.post("returns/looks", {"station": "cart", "folder": str(self.edit), "by_content": True}).json()
        self.assertEqual(self.post("returns/looks", {"station": "cart", "folder": str(self.edit)}).status_code, 409)
        self.post(f"returns/looks/{answer['id']}", method="delete")
        self.assertTrue(self.get("returns")["looks"][0]["stopping"])
        carry_out_look(FolderLook.objects.get())
        found = self.get(f"returns/looks/{answer['id']}")
        self.assertEqual((found["look"]["trouble"], found["look"]["expected"]), ("Wren stopped it", 0))
        self.assertEqual(self.post(f"returns/looks/{answer['id']}/returns").status_code, 409)
