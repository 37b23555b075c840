"""Working files come back from copies, which they are none of.

What stands there afterwards is compared with the card's bytes by `cmp` of GNU diffutils.
"""

import shutil
from unittest.mock import patch

from django.test import TestCase

from ruggedraft.journal.models import JournalEntry
from ruggedraft.returning.models import Return
from ruggedraft.returning.running import break_off, carry_out
from ruggedraft.rolls.models import Reading
from ruggedraft.standins import hub
from ruggedraft.standins.drives import make_drive

from .working import ONE, TWO, Working
from .world import FILES


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
