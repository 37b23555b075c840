"""From a card in a reader to a clearance, through the API, on the real database and real folders."""

import contextlib
import filecmp
import io
import json
import os
import subprocess
from datetime import timedelta
from unittest.mock import patch

import psycopg
from django.core.management import CommandError, call_command
from django.db import connection
from django.test import TestCase
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob

from ruggedraft.clearing.models import Clearance
from ruggedraft.core.redundancy import FileFact
from ruggedraft.intake.acts.read_card import read_card
from ruggedraft.intake.models import Insertion
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.live.notify import connection_words
from ruggedraft.offloads.models import Offload, OffloadFinding
from ruggedraft.offloads.running import carry_out
from ruggedraft.rolls.acts.report_loss import report_loss
from ruggedraft.rolls.models import Reading, Roll
from ruggedraft.runs.queue import take_up_open_runs
from ruggedraft.runs.tasks import carry_out_first
from ruggedraft.standins import card_maker, hub
from ruggedraft.stores.models import Store

from .world import FILES, SHOT, World


class Story(World, TestCase):
    def test_card_in_two_copies_out_card_cleared(self):
        slot = self.get("bench")["slots"][0]
        self.assertEqual((slot["label"], slot["proposal"]["tag"], slot["proposal"]["refusals"]), ("A-01", "A001", []))
        self.assertEqual(slot["listing"]["files"], len(FILES))
        self.assertEqual(self.get("waterline")["cards_waiting"], ["A-01"])
        roll = self.offload()
        for store in ("one", "two"):
            subprocess.run(["diff", "-r", self.card_folder, self.on_drive(store)], check=True)
            self.assertTrue(self.on_drive(store).with_name("A001.xxh128").exists())
        tally = self.get("tally")["rolls"][0]
        self.assertEqual([p["state"] for p in tally["planks"]], ["verified", "verified"])
        self.assertEqual(tally["state"], "safe")
        self.assertEqual(self.standing()["standing"], "ready to sign")
        self.assertTrue(self.sign().json()["cleared"])
        self.assertTrue(self.standing()["may_go_back"])
        evidence = Clearance.objects.get().evidence
        of_roll = evidence["rolls"][0]
        self.assertEqual({c["store"]: c["level"] for c in of_roll["copies"]}, {"one": "read back", "two": "read back"})
        self.assertEqual((of_roll["files"]["count"], evidence["rule"]["copies"]), (len(FILES), 2))
        self.assertEqual([s["by"] for s in evidence["signatures"]], ["wren"])
        self.assertEqual(roll.files.count(), len(FILES))
        self.assertEqual(self.get("log/seal"), {"broken_at": None, "agree": 2, "differ": [], "unread": 0})

    def test_the_checksum_list_beside_a_copy_passes_xxhsum_for_ordinary_names(self):
        (self.card_folder / "line\nbreak \\ caf\udce9").unlink()
        self.offload()
        subprocess.run(
            ["xxhsum", "-c", "A001.xxh128"], cwd=self.on_drive("one").parent, check=True, capture_output=True
        )

    def test_roll_numbers_run_on_and_a_formatted_card_begins_a_new_roll(self):
        self.offload()
        card_maker.format_card(self.card_folder)
        card_maker.add_file(self.card_folder, "B/B0001.MOV", b"new", SHOT + timedelta(days=1))
        self._put_in_again()
        proposal = self.get("bench")["slots"][0]["proposal"]
        self.assertEqual((proposal["tag"], proposal["folder"]), ("A002", "Heron/2026-05-15/A002"))
        self.assertFalse(proposal["goes_on"])

    def test_an_unformatted_card_with_more_on_it_goes_on_with_its_roll_and_takes_only_what_is_new(self):
        self.offload()
        card_maker.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0003.JPG", b"three", SHOT)
        self._put_in_again()
        proposal = self.get("bench")["slots"][0]["proposal"]
        self.assertEqual((proposal["tag"], proposal["goes_on"], proposal["held_files"]), ("A001", True, len(FILES)))
        self.assertEqual([store["missing_files"] for store in proposal["stores"]], [1, 1])
        self.offload()
        self.assertEqual(self.standing()["standing"], "ready to sign")
        self.assertEqual(Roll.objects.count(), 1)

    def test_an_empty_formatted_card_is_ready_for_a_camera(self):
        self.offload()
        self.sign()
        card_maker.format_card(self.card_folder)
        self._put_in_again()
        self.assertEqual(self.standing()["standing"], "empty")

    def test_the_offload_command_does_the_same_job(self):
        out = io.StringIO()
        with self.assertRaisesRegex(CommandError, "whose plan is 'all'"):
            call_command("offload", "A-01", plan="other", by="wren")
        with self.assertRaisesRegex(CommandError, "nobody called"):
            call_command("offload", "A-01", plan="all", by="nobody")
        with self.assertRaisesRegex(CommandError, "Only a wrangler, lead wrangler or supervisor may start"):
            call_command("offload", "A-01", plan="all", by="pip")
        call_command("offload", str(hub.hub() / "slot-1"), plan="all", by="wren", json=True, stdout=out)
        told = json.loads(out.getvalue())
        self.assertEqual((told["roll"], told["state"]), ("A001", "under way"))
        self.assertEqual([copy["level"] for copy in told["copies"]], ["listed", "listed"])

    def test_an_unknown_card_is_introduced_under_its_label(self):
        card_maker.make_card(hub.home(), card_maker.CardSheet("SNX", "?", "SD", 1))
        hub.insert("SNX", "slot-2")
        look(self.station)
        slot = self.get("bench")["slots"][1]
        self.assertIsNone(slot["card_id"])
        self.assertIn("unknown in slot 2", self.get("waterline")["cards_waiting"])
        where = f"bench/insertions/{slot['insertion_id']}/introduce"
        self.assertEqual(self.post(where, {"label": "A-01", "camera": "A"}).status_code, 409)
        self.assertEqual(self.post(where, {"label": "A-09", "camera": "A"}).status_code, 200)
        look(self.station)
        self.assertEqual(self.get("bench")["slots"][1]["listing"]["files"], 0)

    def _put_in_again(self):
        hub.remove("slot-1")
        look(self.station)
        hub.insert("A-01", "slot-1")
        look(self.station)


class BadInput(World, TestCase):
    def test_a_store_that_is_too_small_is_refused_before_copying_by_how_much(self):
        small = self.drive("small", capacity=400_000)
        self.plan.stores.set([self.drives["one"], small])
        look(self.station)
        with patch.object(hub, "BYTES_PER_S", 10**9):
            answer = self.post(f"bench/cards/{self.card.pk}/offload", {"tag": "A001"})
        self.assertEqual(answer.status_code, 409)
        self.assertRegex(answer.json()["title"], r"'small' is \d+ kB too small: it has .* free and .* are needed")
        self.assertEqual((Roll.objects.count(), Offload.objects.count()), (0, 0))
        self.assertEqual(sorted(os.listdir(hub.home() / "drives" / "one")), [".raft-standin-device", ".raft-store"])

    def test_a_card_taken_out_before_the_worker_came(self):
        offload = self._started()
        hub.remove("slot-1")
        look(self.station)
        self._run(offload)
        self.assertIn("not in a reader", OffloadFinding.objects.get(offload=offload).reason)
        self.assertEqual(self.standing()["standing"], "not clear")

    def test_a_card_pulled_half_way_then_put_in_again(self):
        offload = self._started()

        def pull(source, count):
            hub.remove("slot-1")

        with patch.object(hub.PacedSource, "wait_for", pull):
            self._run(offload)
        look(self.station)
        self.assertGreater(offload.findings.count(), 0)
        roll = self.get("tally")["rolls"][0]
        self.assertEqual(roll["state"], "short", "copies of half a card are no copies of the roll")
        self.assertRegex(roll["blocks"][0]["sentence"], r"\d files? of it (was|were) never read off the card")
        self.assertEqual(self.get("waterline")["rolls_short"], ["A001"])
        self.assertEqual(self.sign().status_code, 409)
        hub.insert("A-01", "slot-1")
        look(self.station)
        self.assertEqual(self.offload().tag, "A001", "the number is not wasted")
        self.assertEqual(self.standing()["standing"], "ready to sign")

    def test_a_store_that_is_not_there_fails_alone_and_is_filled_later(self):
        offload = self._started()
        away = (hub.home() / "drives" / "two").rename(hub.home() / "drives" / "away")
        self._run(offload)
        self.assertIn("not connected", offload.findings.get(store__name="two").reason)
        self.assertEqual(self.standing()["blocks"][0]["sentence"], "1 of 2 copies that count")
        self.assertEqual([one["sentence"] for one in self.standing()["remedy"]], ["copy it to 'three', which has room"])
        away.rename(hub.home() / "drives" / "two")
        look(self.station)
        self.offload()
        self.assertEqual(self.standing()["standing"], "ready to sign")

    def test_an_empty_mount_point_and_a_swapped_drive_are_not_the_store(self):
        two = hub.home() / "drives" / "two"
        two.rename(two.with_name("away"))
        two.mkdir()
        look(self.station)
        self.assertFalse(Store.objects.get(name="two").sightings.get().online)
        two.rmdir()
        (hub.home() / "drives" / "three").rename(two)
        look(self.station)
        self.assertIn("another store", Store.objects.get(name="two").sightings.get().trouble)
        self.assertIn(
            "not connected", self.post(f"bench/cards/{self.card.pk}/offload", {"tag": "A001"}).json()["title"]
        )

    def test_a_link_out_of_the_card_blocks_clearing_by_name_until_it_is_waived(self):
        (self.card_folder / "escape").symlink_to("/etc/passwd")
        read_card(Insertion.objects.get())
        self.offload()
        block = self.standing()["blocks"][0]
        self.assertEqual((block["kind"], block["paths"]), ("uncovered", ["escape"]))
        self.assertEqual(self.sign().status_code, 409)
        waive = f"clearing/cards/{self.card.pk}/waive"
        self.assertEqual(self.post(waive, {"path": "escape", "reason": " "}).status_code, 409)
        self.assertEqual(self.post(waive, {"path": "escape", "reason": "a stray link"}).status_code, 200)
        self.assertTrue(self.sign().json()["cleared"])

    def test_a_run_that_breaks_off_claims_nothing_and_can_be_done_again(self):
        offload = self._started()
        with (
            patch("ruggedraft.offloads.running.finish_offload", side_effect=ZeroDivisionError),
            self.assertRaises(ZeroDivisionError),
        ):
            self._run(offload)
        self.assertIsNone(Offload.objects.get().finished_at)
        broken = patch("ruggedraft.offloads.running.transfer", side_effect=ZeroDivisionError)
        with broken, self.assertRaises(ZeroDivisionError):
            carry_out_first(run_id=offload.pk)
        self.assertIn("broke off", OffloadFinding.objects.get().reason)
        self.assertEqual(Reading.objects.count(), 0)
        self.offload()
        self.assertEqual(self.standing()["standing"], "ready to sign")

    def test_a_station_that_starts_takes_up_runs_that_no_job_stands_for(self):
        offload = self._started()
        jobs = ProcrastinateJob.objects.filter(task_name="runs:carry_out_first")
        take_up_open_runs(self.station)
        self.assertEqual(jobs.count(), 1, "one job stands for it")
        with connection.cursor() as cursor:
            cursor.execute("UPDATE procrastinate_jobs SET status = 'failed'")
        take_up_open_runs(self.station)
        self.assertEqual([job.args["run_id"] for job in jobs.filter(status="todo")], [offload.pk])

    def test_a_job_that_is_said_to_go_on_is_believed_only_while_somebody_holds_its_run(self):
        """The database was away when it ended: its job stays "doing" for ever, and nobody works on the run."""
        offload = self._started()
        jobs = ProcrastinateJob.objects.filter(task_name="runs:carry_out_first")
        with connection.cursor() as cursor:
            cursor.execute("UPDATE procrastinate_jobs SET status = 'doing'")
        with psycopg.connect(**connection_words()) as worker:
            worker.execute("SELECT pg_advisory_lock(%s, %s)", [0x5246, offload.pk])
            take_up_open_runs(self.station)
            self.assertEqual(jobs.count(), 1, "somebody works on it")
            worker.execute("SELECT pg_advisory_unlock(%s, %s)", [0x5246, offload.pk])
        take_up_open_runs(self.station)
        take_up_open_runs(self.station)
        self.assertEqual(jobs.filter(status="todo").count(), 1)
        Offload.objects.update(held_back=True)
        with connection.cursor() as cursor:
            cursor.execute("UPDATE procrastinate_jobs SET status = 'failed'")
        take_up_open_runs(self.station)
        self.assertEqual(jobs.filter(status="todo").count(), 0, "a paused run waits for its person")

    def test_a_run_whose_lock_the_database_lost_is_not_begun_a_second_time_beside_itself(self):
        offload = self._started()
        tried = []

        def lose_the_lock_and_look(*words, **more):
            with connection.cursor() as cursor:
                cursor.execute(
                    "SELECT pg_terminate_backend(pid) FROM pg_locks WHERE locktype = 'advisory' AND classid = %s"
                    " AND objid = %s",
                    [0x5246, offload.pk],
                )
                cursor.execute("UPDATE procrastinate_jobs SET status = 'failed'")
            take_up_open_runs(self.station)
            tried.append(ProcrastinateJob.objects.filter(status="todo").count())
            carry_out_first(run_id=offload.pk)

        with patch("ruggedraft.runs.tasks._carry_out", side_effect=lose_the_lock_and_look) as running:
            with contextlib.suppress(psycopg.Error):  # its own connection is gone
                carry_out_first(run_id=offload.pk)
            self.assertEqual((tried, running.call_count), ([0], 1))

    def test_a_second_start_and_a_taken_tag_are_refused(self):
        self.assertEqual(self.post(f"bench/cards/{self.card.pk}/offload", {"tag": "A007"}).status_code, 409)
        self.assertEqual(self.post(f"bench/cards/{self.card.pk}/offload", {"tag": "A001"}).status_code, 200)
        again = self.post(f"bench/cards/{self.card.pk}/offload", {"tag": "A001"})
        self.assertEqual((again.status_code, Offload.objects.count()), (409, 1))

    def test_nonsense_is_answered_in_one_shape_with_a_sentence(self):
        for path, body, status in (
            (f"bench/cards/{self.card.pk}/offload", {}, 422),
            ("clearing/cards/999/sign", {"tag": "A001", "digest": ""}, 404),
            (f"clearing/cards/{self.card.pk}/sign", {"tag": "A001", "digest": ""}, 409),
        ):
            self.assertEqual(self.post(path, body).status_code, status)
        problem = self.post(f"bench/cards/{self.card.pk}/offload", {}).json()
        self.assertEqual(set(problem), {"type", "status", "title"})

    def test_two_folders_of_one_disk_are_one_device_whatever_they_are_called(self):
        twin = self.drive("twin", identity="one")
        self.assertEqual(twin.device, self.drives["one"].device)
        self.plan.stores.set([self.drives["one"], twin])
        look(self.station)
        self.assertIn("separate devices", str(self.get("bench")["slots"][0]["proposal"]["short"]))
        self.offload()
        self.assertEqual(self.standing()["standing"], "not clear", "two copies, and one device")

    def _started(self) -> Offload:
        self.assertEqual(self.post(f"bench/cards/{self.card.pk}/offload", {"tag": "A001"}).status_code, 200)
        return Offload.objects.select_related("roll", "card", "station").get()

    def _run(self, offload: Offload) -> None:
        carry_out(offload.pk)


class NeverAWrongVerified(World, TestCase):
    def test_files_that_joined_the_roll_while_a_store_was_away_are_not_held_there(self):
        self.offload()
        card_maker.add_file(self.card_folder, "late.MOV", b"late", SHOT)
        read_card(Insertion.objects.get())
        offload = self.post(f"bench/cards/{self.card.pk}/offload", {"tag": "A001"})
        self.assertEqual(offload.status_code, 200)
        away = (hub.home() / "drives" / "two").rename(hub.home() / "drives" / "away")
        carry_out(Offload.objects.select_related("roll", "card", "station").latest("id").pk)
        away.rename(hub.home() / "drives" / "two")
        planks = {p["store"]: (p["state"], p["missing_files"]) for p in self.get("tally")["rolls"][0]["planks"]}
        self.assertEqual(planks, {"one": ("verified", 0), "two": ("partial", 1)}, "not brought is not broken")
        self.assertEqual(self.sign().status_code, 409)

    def test_rot_is_found_by_a_check_and_healing_it_too(self):
        roll = self.offload()
        file = self.on_drive("two") / "DCIM/100AAAAA/AAAA0001.JPG"
        good, times = file.read_bytes(), file.stat()
        file.write_bytes(b"X" + good[1:])
        os.utime(file, ns=(times.st_atime_ns, times.st_mtime_ns))
        self.check(roll, "two")
        self.assertEqual([p["state"] for p in self.get("tally")["rolls"][0]["planks"]], ["verified", "broken"])
        detail = self.get("tally/rolls/A001")
        self.assertIn("not what was read off the card", detail["faults"][0]["reason"])
        self.assertEqual([one["sentence"] for one in detail["roll"]["remedy"]], ["mend 1 file on 'two'"])
        file.write_bytes(good)
        self.check(roll, "two")
        self.assertEqual(self.get("tally/rolls/A001")["faults"], [])
        self.assertEqual(self.get("tally")["rolls"][0]["state"], "safe")

    def test_a_check_of_a_store_that_is_away_says_nothing_about_the_copy(self):
        roll = self.offload()
        (hub.home() / "drives" / "two").rename(hub.home() / "drives" / "away")
        checks = Reading.objects.count()
        self.check(roll, "two")
        self.assertEqual(Reading.objects.count(), checks)

    def test_a_cleared_roll_below_the_line_heads_the_list_and_its_card_is_not_clear(self):
        self.offload()
        self.sign()
        report_loss(self.wren, self.drives["two"].device, "fell overboard")
        self.assertEqual(self.get("tally")["rolls"][0]["state"], "below the line")
        self.assertEqual(self.get("waterline")["rolls_below"], ["A001"])
        self.assertEqual(self.standing()["standing"], "not clear")

    def test_anything_new_on_a_cleared_card_revokes_its_clearance_by_name(self):
        self.offload()
        self.sign()
        card_maker.add_file(self.card_folder, "after.MOV", b"after", SHOT)
        read_card(Insertion.objects.get())
        case = self.standing()
        self.assertEqual((case["may_go_back"], case["blocks"][0]["kind"]), (False, "revoked"))
        self.assertEqual(case["blocks"][0]["paths"], ["after.MOV"])

    def test_a_changed_file_on_the_card_is_not_covered(self):
        self.offload()
        card_maker.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0001.JPG", b"ONE" * 1000, SHOT + timedelta(seconds=2))
        read_card(Insertion.objects.get())
        self.assertEqual(self.standing()["blocks"][0]["paths"], ["DCIM/100AAAAA/AAAA0001.JPG"])

    def test_signing_is_refused_for_the_wrong_tag_an_old_listing_or_another_content(self):
        self.offload()
        shown = self.standing()["digest"]
        self.assertIn("A002", self.sign(tag="A002").json()["title"])
        with clock.at(timezone.now() + timedelta(hours=2)):
            self.assertIn("read it again", self.sign().json()["title"])
        card_maker.add_file(self.card_folder, "later.MOV", b"x", SHOT)
        read_card(Insertion.objects.get())
        answer = self.sign(digest=shown)
        self.assertIn("in no copy", answer.json()["title"])
        self.assertEqual(Clearance.objects.count(), 0)

    def test_two_signers_must_be_two_people(self):
        self.production.rule.signers = 2
        self.production.rule.save()
        self.offload()
        self.assertEqual(self.sign().json()["state"], "signed")
        self.assertEqual(self.standing()["standing"], "waiting for a signature")
        self.assertIn("somebody else", self.sign().json()["title"])
        self.assertTrue(self.sign(self.sol).json()["cleared"])

    def test_a_hold_blocks_until_it_is_lifted(self):
        roll = self.offload()
        self.assertEqual(self.hold("roll", roll.tag, "until delivered").status_code, 200)
        self.assertIn("until delivered", self.sign().json()["title"])
        hold = self.standing()["holds"][0]["id"]
        self.assertEqual(self.post(f"clearing/holds/{hold}", method="delete").status_code, 200)
        self.assertEqual(self.sign().status_code, 200)

    def test_a_run_that_was_recorded_is_not_recorded_twice(self):
        self.offload()
        checks = Reading.objects.count()
        carry_out(Offload.objects.select_related("roll", "card", "station").get().pk)
        self.assertEqual(Reading.objects.count(), checks)

    def test_what_the_ledger_says_of_the_card_is_what_stands_on_it(self):
        self.offload()
        roll = Roll.objects.get()
        facts = {FileFact(f.path, f.size, f.modified_ns) for f in roll.files.all()}
        self.assertEqual(len(facts), len(FILES))
        for path in ("DCIM/100AAAAA/AAAA0001.JPG", "zero"):
            self.assertTrue(filecmp.cmp(self.card_folder / path, self.on_drive("one") / path, shallow=False))
