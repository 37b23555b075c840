"""What every kind of run shares: queue, pause, cancel, and ending once. Here with checks, feeds and joins."""

from unittest.mock import patch

from django.db import IntegrityError, connection, transaction
from django.test import TestCase
from procrastinate.contrib.django.models import ProcrastinateJob

from ruggedraft.checks.acts.finish_check import finish_check
from ruggedraft.checks.models import CheckRun
from ruggedraft.core.runs import RunEnd, RunState
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.transfer import CheckReport, checking
from ruggedraft.journal.models import JournalEntry
from ruggedraft.offloads.models import Offload
from ruggedraft.rolls.models import Copy, Reading
from ruggedraft.rolls.recording import begin
from ruggedraft.runs.models import Run
from ruggedraft.runs.queue import add_to_queue, ask_for_worker, open_runs, take_up_open_runs
from ruggedraft.runs.tasks import carry_out_first
from ruggedraft.runs.watching import Watch

from .deciding import Deciding


class OneQueue(Deciding, TestCase):
    def setUp(self):
        super().setUp()
        self.roll = self.offload()
        self.readings = Reading.objects.count()

    def ask(self, store: str = "one") -> CheckRun:
        copy = Copy.objects.get(roll=self.roll, store__name=store)
        self.assertEqual(self.post(f"copies/{copy.pk}/check").status_code, 200)
        return CheckRun.objects.latest("id")

    def act(self, run: Run, what: str, person=None):
        return self.post(f"runs/{run.pk}/{what}", person=person)

    def test_a_check_is_taken_up_paused_and_carried_out_like_an_offload(self):
        check = self.ask()
        self.assertEqual((check.state, check.kind, check.rank), (RunState.WAITING, "check", 2))
        told = self.get(f"tally/rolls/{self.roll.tag}")["under_way"]
        self.assertEqual(told, [{"run_id": check.pk, "kind": "check", "store": "one", "state": "waiting"}])
        self.assertEqual(self.act(check, "pause", self.pip).status_code, 403)
        self.assertEqual(self.act(check, "pause").status_code, 200)
        self.run_all()
        self.assertEqual(CheckRun.objects.get().state, RunState.PAUSED)
        self.assertEqual(self.act(check, "resume").status_code, 200)
        self.run_all()
        check.refresh_from_db()
        self.assertEqual((check.state, Reading.objects.count()), (RunState.WELL, self.readings + 1))
        self.assertIn("was read again: 4 files agree.", check.outcome)
        self.assertEqual(JournalEntry.objects.latest("id").sentence, check.outcome)
        self.refused(self.act(check, "cancel"), "This check has ended already")

    def test_a_check_paused_while_it_reads_claims_nothing_and_begins_again(self):
        check = self.ask()
        self.stop_while_reading("pause", check)
        check.refresh_from_db()
        self.assertEqual((check.state, Reading.objects.count()), (RunState.PAUSED, self.readings))
        self.act(check, "resume")
        self.run_all()
        check.refresh_from_db()
        self.assertEqual((check.state, Reading.objects.count()), (RunState.WELL, self.readings + 1))

    def test_a_check_cancelled_while_it_reads_says_only_what_it_read(self):
        check = self.ask()
        self.stop_while_reading("cancel", check)
        check.refresh_from_db()
        self.assertEqual(check.state, RunState.CANCELLED)
        self.assertIn("the check was cancelled; 1 file agrees", check.outcome)
        reading = Reading.objects.latest("id")
        self.assertEqual(reading.agreed_files, 1, "the others keep their standing")
        self.assertEqual(self.standing()["standing"], "ready to sign")

    def stop_while_reading(self, what: str, check: CheckRun) -> None:
        """Somebody stops the check after its first file, and the station learns of it before the next."""
        real, watches = LocalStore.read_back, []
        enter = Watch.__enter__

        def entered(watch):
            watches.append(watch)
            return enter(watch)

        def read_back(store, path, consume):
            level = real(store, path, consume)
            if len(watches) == 1:
                self.assertEqual(self.act(check, what).status_code, 200)
                watches[0]._held_back = what == "pause"
                watches[0]._stop.set()
                watches.append(None)
            return level

        with (
            patch.object(Watch, "__enter__", entered),
            patch.object(LocalStore, "read_back", read_back),
            patch.object(checking, "_SIDE_BY_SIDE", 1),
        ):
            carry_out_first(run_id=check.pk)

    def test_a_run_ends_once_whoever_ends_it_first(self):
        check = self.ask()
        finish_check(check, None, "somebody pulled the plug")
        report = CheckReport({"DCIM/100AAAAA/AAAA0001.JPG"}, [])
        finish_check(check, report, began=begin())
        check.refresh_from_db()
        self.assertEqual((check.end, Reading.objects.count()), (RunEnd.TROUBLE, self.readings))

    def test_there_is_one_open_run_of_a_subject_and_the_database_sees_to_it(self):
        check = self.ask()
        again = self.post(f"copies/{check.copy_id}/check")
        self.refused(again, "being checked already")
        twin = CheckRun(subject=check.subject, roll=check.roll, station=check.station, person=check.person,
                        copy=check.copy)  # fmt: skip
        with self.assertRaises(IntegrityError), transaction.atomic():
            add_to_queue(twin)

    def test_one_job_at_a_time_waits_for_a_run_and_asking_again_harms_nothing(self):
        check = self.ask()
        jobs = ProcrastinateJob.objects.filter(args={"run_id": check.pk}, status="todo")
        for _ in range(3):
            ask_for_worker(check)
            take_up_open_runs(self.station)
        self.assertEqual(jobs.count(), 1)
        with connection.cursor() as cursor:
            cursor.execute("UPDATE procrastinate_jobs SET status = 'failed'")
        take_up_open_runs(self.station)
        self.assertEqual(jobs.count(), 1, "a run that no job stands for is taken up")

    def test_a_check_that_breaks_off_claims_nothing_and_says_so(self):
        check = self.ask()
        broken = patch("ruggedraft.checks.running.check_copy", side_effect=ZeroDivisionError)
        with broken, self.assertRaises(ZeroDivisionError):
            carry_out_first(run_id=check.pk)
        check.refresh_from_db()
        self.assertEqual((check.state, Reading.objects.count()), (RunState.BROKE_OFF, self.readings))
        self.assertIn("could not be checked: the check broke off", check.outcome)

    def test_offloads_and_checks_of_one_station_stand_in_one_order(self):
        check = self.ask()
        card, _ = self.new_card("A-02", {"2.MOV": b"2"})
        self.put_in("A-02", "slot-2")
        self.start(card)
        order = [run.kind for run in open_runs(self.station)]
        self.assertEqual(order, ["check", "offload"])
        carry_out_first(run_id=Offload.objects.latest("id").pk)
        check.refresh_from_db()
        self.assertEqual(check.state, RunState.WELL, "the first goes, whichever the worker came for")
