"""Working files that were deleted, renamed, moved or damaged are seen, and come back from copies; they are none.

What an editor does to a folder is done with the shell's own programs, and what stands there afterwards is compared with
the card's bytes by `cmp` of GNU diffutils.
"""

import shutil
import subprocess
from pathlib import Path
from unittest.mock import patch

import opentimelineio as otio
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from ruggedraft.core.sources import from_ledger
from ruggedraft.intake.watching import look
from ruggedraft.journal.models import JournalEntry
from ruggedraft.kit.models import Station
from ruggedraft.returning.looking import carry_out_look
from ruggedraft.returning.models import FolderLook, Return
from ruggedraft.returning.running import break_off, carry_out
from ruggedraft.rolls.models import Reading, RollFile
from ruggedraft.standins import hub
from ruggedraft.standins.drives import make_drive
from ruggedraft.stores.probe import device_probe

from .world import FILES, World

ONE, TWO = "DCIM/100AAAAA/AAAA0001.JPG", "DCIM/100AAAAA/AAAA0002.JPG"


class Working(World):
    def setUp(self):
        super().setUp()
        self.roll = self.offload()
        self.drive_folder = make_drive(self.base / "edit drive", identity="edit", capacity=10**9)
        self.edit = self.drive_folder / "barge"
        shutil.copytree(self.on_drive("one"), self.edit / "A001", ignore=shutil.ignore_patterns("*.xxh128", "*.json"))
        for path in list((self.edit / "A001").rglob("*")):
            if path.is_file() and not self._is_of_roll(path):
                path.unlink()

    def _is_of_roll(self, path: Path) -> bool:
        kept = {from_ledger(one) for one in RollFile.objects.values_list("path", flat=True)}
        return str(path.relative_to(self.edit / "A001")) in kept

    def at(self, path: str) -> Path:
        return self.edit / "A001" / path

    def look_into(self, folder: Path | None = None, *, by_content: bool = True, **words) -> dict:
        said = {"station": "cart", "folder": str(folder or self.edit), "by_content": by_content, **words}
        answer = self.post("returns/looks", said)
        self.assertEqual(answer.status_code, 200, answer.content)
        carry_out_look(FolderLook.objects.get(pk=answer.json()["id"]))
        return self.get(f"returns/looks/{answer.json()['id']}")

    @staticmethod
    def told(found: dict) -> list[tuple[str, str, str]]:
        return [(row["kind"], row["path"], row["elsewhere"]) for row in found["rows"]]

    def bring(self, found: dict, rows: list[int] | None = None, **words) -> Return:
        answer = self.post(f"returns/looks/{found['look']['id']}/returns", {"rows": rows or [], **words})
        self.assertEqual(answer.status_code, 200, answer.content)
        return self.carried_out()

    def carried_out(self) -> Return:
        run = Return.objects.latest("pk")
        carry_out(run.pk)
        run.refresh_from_db()
        return run

    def is_as_on_card(self, path: str, at: Path) -> bool:
        return subprocess.run(["cmp", "-s", str(self.card_folder / path), str(at)], check=False).returncode == 0


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


class Bringing(Working, TestCase):
    def test_what_is_missing_comes_back_to_where_it_was_and_is_read_back(self):
        self.at(TWO).unlink()
        shutil.rmtree(self.at("DCIM"))
        run = self.bring(self.look_into())
        self.assertEqual(run.end, "well", run.outcome)
        self.assertIn("all are there from 'one', read back, as they were taken", run.outcome)
        for path in (ONE, TWO):
            self.assertTrue(self.is_as_on_card(path, self.at(path)), path)
        self.assertEqual(self.at(ONE).stat().st_mtime_ns, (self.card_folder / ONE).stat().st_mtime_ns)
        self.assertEqual(self.look_into()["rows"], [])
        self.assertEqual(list(self.edit.rglob(".raft-*")), [], "nothing of ours is left there")
        self.assertTrue(JournalEntry.objects.filter(act="finish return", subject="A001").exists())

    def test_what_came_back_is_not_called_missing_any_more_and_what_did_not_is(self):
        self.at(ONE).unlink()
        self.at("zero").unlink()
        found = self.look_into()
        again = f"returns/looks/{found['look']['id']}"
        self.post(f"{again}/returns")
        told = self.get(again)
        self.assertEqual(([row["coming"] for row in told["rows"]], told["missing_still"]), ([True, True], 0))
        self.at(ONE).write_bytes(b"somebody was faster")
        self.carried_out()
        told = self.get(again)
        self.assertEqual([bool(row["back_at"]) for row in told["rows"]], [False, True])
        self.assertEqual([row["coming"] for row in told["rows"]], [False, False])
        self.assertEqual(told["missing_still"], 1)
        self.assertEqual(self.get("returns")["returns"][0]["state"], "trouble")

    def test_nothing_is_counted_and_nothing_becomes_evidence(self):
        self.at(ONE).unlink()
        readings, standing = Reading.objects.count(), self.standing()
        self.bring(self.look_into())
        self.assertEqual(Reading.objects.count(), readings)
        self.assertEqual(self.standing(), standing)

    def test_what_stands_there_is_never_overwritten(self):
        self.at(ONE).write_bytes(b"edited by somebody")
        found = self.look_into()
        refused = self.post(f"returns/looks/{found['look']['id']}/returns", {"rows": [found["rows"][0]["n"]]})
        self.assertIn("nothing is overwritten", refused.json()["title"])
        self.assertEqual(self.at(ONE).read_bytes(), b"edited by somebody")
        run = self.bring(found, [found["rows"][0]["n"]], aside=True)
        self.assertEqual(run.end, "well", run.outcome)
        self.assertIn("1 other file that stood there is in .raft-set-aside of that folder now.", run.outcome)
        self.assertTrue(self.is_as_on_card(ONE, self.at(ONE)))
        aside = [path for path in self.edit.rglob("*") if ".raft-set-aside" in str(path) and path.is_file()]
        self.assertEqual([path.read_bytes() for path in aside], [b"edited by somebody"])

    def test_what_came_to_stand_there_meanwhile_stays_and_is_told(self):
        self.at(ONE).unlink()
        self.at("zero").unlink()
        found = self.look_into()
        self.at(ONE).write_bytes(b"somebody was faster")
        run = self.bring(found)
        self.assertEqual(run.end, "trouble")
        self.assertIn("1 of 2 are there, read back", run.outcome)
        self.assertIn("AAAA0001.JPG", run.outcome)
        self.assertEqual(self.at(ONE).read_bytes(), b"somebody was faster")

    def test_aside_leaves_alone_what_is_as_it_was_by_then(self):
        self.at(ONE).write_bytes(b"edited")
        found = self.look_into()
        self.at(ONE).write_bytes((self.card_folder / ONE).read_bytes())
        run = self.bring(found, [found["rows"][0]["n"]], aside=True)
        self.assertEqual(run.end, "well", run.outcome)
        self.assertNotIn("aside", run.outcome)

    def test_what_stands_there_stays_or_goes_back_where_the_other_does_not_come(self):
        self.at(ONE).write_bytes(b"edited")
        found = self.look_into()
        drives = hub.home() / "drives"
        for name in ("one", "two"):
            drives.joinpath(name).rename(self.base / name)
        run = self.bring(found, [found["rows"][0]["n"]], aside=True)
        self.assertEqual((self.at(ONE).read_bytes(), run.end), (b"edited", "trouble"))
        for name in ("one", "two"):
            (self.base / name).rename(drives / name)
            self.on_drive(name).joinpath(ONE).write_bytes(b"rot")
        run = self.bring(found, [found["rows"][0]["n"]], aside=True)
        self.assertEqual((self.at(ONE).read_bytes(), run.end), (b"edited", "trouble"))
        self.assertNotIn("aside", run.outcome)

    def test_another_copy_gives_what_the_first_cannot(self):
        self.at(ONE).unlink()
        self.at(TWO).unlink()
        self.on_drive("one").joinpath(ONE).write_bytes(b"rot")
        run = self.bring(self.look_into())
        self.assertEqual(run.end, "well", run.outcome)
        self.assertIn("from 'one', 'two'", run.outcome)
        self.assertTrue(self.is_as_on_card(ONE, self.at(ONE)), "a copy that rotted gave nothing")

    def test_without_any_copy_at_hand_nothing_is_claimed(self):
        self.at(ONE).unlink()
        found = self.look_into()
        drives = hub.home() / "drives"
        for name in ("one", "two"):
            drives.joinpath(name).rename(self.base / name)
        run = self.bring(found)
        self.assertEqual(run.end, "trouble")
        self.assertIn("none of them is there", run.outcome)
        self.assertIn("not connected", run.outcome)
        self.assertFalse(self.at(ONE).exists())

    def test_another_drive_at_the_same_place_gets_nothing(self):
        self.at(ONE).unlink()
        found = self.look_into()
        shutil.rmtree(self.drive_folder)
        make_drive(self.drive_folder, identity="another", capacity=10**9)
        self.edit.mkdir()
        run = self.bring(found)
        self.assertIn("another drive is at", run.outcome)
        self.assertEqual(list(self.edit.iterdir()), [])

    def test_the_system_disk_and_a_copy_s_own_folder_get_nothing(self):
        plain = self.base / "plain"
        plain.mkdir()
        self.post("returns/restores", {"station": "cart", "folder": str(plain), "tags": ["A001"]})
        self.assertIn("on this computer's system disk", self.carried_out().outcome)
        self.assertEqual(list(plain.iterdir()), [])
        copies = self.on_drive("three").parent
        copies.mkdir(parents=True, exist_ok=True)
        inside = self.on_drive("one")
        for folder in (inside, inside.parent):
            self.post("returns/restores", {"station": "cart", "folder": str(folder), "tags": ["A001"]})
            run = self.carried_out()
            self.assertIn("it is where a copy of A001 is kept", run.outcome)
            self.assertEqual(run.end, "trouble")
        self.assertFalse((inside / "A001").exists())

    def test_too_little_room_is_said_before_anything_is_written(self):
        make_drive(self.base / "small", identity="small", capacity=1000)
        self.post("returns/restores", {"station": "cart", "folder": str(self.base / "small"), "tags": ["A001"]})
        run = self.carried_out()
        self.assertIn("has room for", run.outcome)
        self.assertFalse((self.base / "small" / "A001").exists())

    def test_a_roll_a_day_and_one_clip_are_restored_to_any_place(self):
        place = make_drive(self.base / "stick", identity="stick", capacity=10**9)
        for n, said in enumerate(({"tags": ["A001"]}, {"day": "2026-05-14"}, {"tags": ["A001"], "clip": ONE})):
            folder = place / str(n)
            folder.mkdir()
            answer = self.post("returns/restores", {"station": "cart", "folder": str(folder), **said})
            self.assertEqual(answer.status_code, 200, answer.content)
            self.assertEqual(self.carried_out().end, "well")
            there = {str(path.relative_to(folder / "A001")) for path in folder.rglob("*") if path.is_file()}
            self.assertEqual(there, {ONE} if "clip" in said else set(FILES))
            self.assertTrue(self.is_as_on_card(ONE, folder / "A001" / ONE))
        for said in ({"tags": ["Z999"]}, {"tags": []}, {"day": "2031-01-01"}, {"tags": ["A001"], "clip": "no"}):
            answer = self.post("returns/restores", {"station": "cart", "folder": str(place), **said})
            self.assertEqual(answer.status_code, 404, said)

    def test_an_interrupted_one_goes_on_and_a_broken_one_claims_nothing(self):
        place = make_drive(self.base / "stick", identity="stick", capacity=10**9)
        self.post("returns/restores", {"station": "cart", "folder": str(place), "tags": ["A001"]})
        run = Return.objects.get()
        again = self.post("returns/restores", {"station": "cart", "folder": str(place), "tags": ["A001"]})
        self.assertIn("already", again.json()["title"])
        with (
            patch("ruggedraft.returning.running._finish", side_effect=RuntimeError("killed")),
            self.assertRaises(RuntimeError),
        ):
            carry_out(run.pk)
        carry_out(run.pk)  # as the worker does that takes it up again
        run.refresh_from_db()
        self.assertEqual(run.end, "well", run.outcome)
        self.post("returns/restores", {"station": "cart", "folder": str(place), "tags": ["A001"]})
        run = Return.objects.latest("pk")
        break_off(run.pk, RuntimeError("x"))
        run.refresh_from_db()
        self.assertEqual(run.end, "broke off")
        self.assertIn("Nothing there was overwritten", run.outcome)

    def test_what_a_killed_worker_moved_aside_is_told_or_put_back_by_the_next(self):
        for reachable in (True, False):
            self.at(TWO).write_bytes(b"edited by somebody")
            found = self.look_into()
            rows = [row["n"] for row in found["rows"]]
            self.post(f"returns/looks/{found['look']['id']}/returns", {"rows": rows, "aside": True})
            run = Return.objects.latest("pk")
            with (
                patch("ruggedraft.returning.running._bring", side_effect=KeyboardInterrupt()),
                self.assertRaises(KeyboardInterrupt),
            ):
                carry_out(run.pk)
            self.assertFalse(self.at(TWO).exists())
            with self.subTest(reachable=reachable):
                if not reachable:
                    for name in ("one", "two"):
                        (hub.home() / "drives" / name).rename(hub.home() / "drives" / f"{name} unplugged")
                carry_out(run.pk)
                run.refresh_from_db()
                self.assertEqual("1 other file that stood there is in .raft-set-aside" in run.outcome, reachable)
                self.assertEqual(self.is_as_on_card(TWO, self.at(TWO)), reachable)
        self.assertEqual(self.at(TWO).read_bytes(), b"edited by somebody", "it stands where it stood")

    def test_a_cancelled_one_says_how_far_it_came(self):
        place = make_drive(self.base / "stick", identity="stick", capacity=10**9)
        self.post("returns/restores", {"station": "cart", "folder": str(place), "tags": ["A001"]})
        run = Return.objects.get()
        self.post(f"runs/{run.pk}/cancel")
        self.assertEqual(self.carried_out().end, "cancelled")

    def test_it_is_for_those_who_may(self):
        words = {"station": "cart", "folder": str(self.edit), "tags": ["A001"]}
        self.assertEqual(self.post("returns/restores", words, self.pip).status_code, 403)
