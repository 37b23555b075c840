"""What every kind of run shares: queue, pause, cancel, and ending once. Here with checks, feeds and joins."""

from contextlib import contextmanager
from datetime import timedelta
from unittest.mock import patch

import psycopg
from django.db import IntegrityError, connection, transaction
from django.test import TestCase
from procrastinate.contrib.django.models import ProcrastinateJob

from ruggedraft.checks.acts.finish_check import finish_check
from ruggedraft.checks.models import CheckRun
from ruggedraft.core.runs import RunEnd, RunState
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.transfer import CheckReport, checking
from ruggedraft.intake.models import Reader
from ruggedraft.intake.watching import look
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.live.notify import connection_words
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.devices import shown_by_offloads, used_by
from ruggedraft.offloads.models import Offload
from ruggedraft.offloads.proposal import propose
from ruggedraft.offloads.queue import station_queue
from ruggedraft.rolls.models import Copy, Reading
from ruggedraft.rolls.recording import begin
from ruggedraft.runs import sharing
from ruggedraft.runs.models import Run, RunQueue
from ruggedraft.runs.queue import HERE, add_to_queue, ask_for_worker, begin_first, open_runs, take_up_open_runs
from ruggedraft.runs.tasks import carry_out_first
from ruggedraft.runs.watching import Watch
from ruggedraft.standins import hub

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


class SeveralCards(Deciding, TestCase):
    """Which runs go at once, by what is behind their readers and stores."""

    def setUp(self):
        super().setUp()
        self.ones = [self.card]
        for n in (2, 3):
            card, _ = self.new_card(f"A-0{n}", {f"DCIM/100AAAAA/AAAA{n}001.JPG": b"more" * n})
            hub.insert(card.label, f"slot-{n}")
            self.ones.append(card)
        look(self.station)

    def start(self) -> list[Offload]:
        return [start_offload(self.wren, card, propose(card).tag) for card in self.ones]

    @contextmanager
    def shown(self, **at_once: int):
        """What earlier runs are said to have shown of drives."""
        known = {f"stand-in {drive}": count for drive, count in at_once.items()}
        with patch.object(sharing, "learned_from", [lambda most: known]):
            yield

    def begin(self) -> int | None:
        """A worker takes a run, and keeps it until the test is over."""
        ledger = psycopg.connect(**connection_words())
        self.addCleanup(ledger.close)
        run = begin_first(self.station, RunQueue.CARDS, ledger)
        if run:
            self.addCleanup(HERE.end, run.pk)
        return run and run.pk

    def test_two_of_a_drive_of_which_nothing_is_known(self):
        first, second, _ = self.start()
        self.assertEqual([self.begin(), self.begin(), self.begin()], [first.pk, second.pk, None])

    def test_one_after_the_other_where_two_are_no_faster_and_the_next_begins_when_the_first_has_ended(self):
        first, second, _ = self.start()
        with self.shown(one=1):
            self.assertEqual([self.begin(), self.begin()], [first.pk, None])
            HERE.end(first.pk)
            Run.objects.filter(pk=first.pk).update(finished_at=now())
            self.assertEqual(self.begin(), second.pk)

    def test_those_that_share_nothing_go_beside_them(self):
        self.plan.stores.set([self.drives["one"]])
        first = start_offload(self.wren, self.ones[0], propose(self.ones[0]).tag)
        self.plan.stores.set([self.drives["three"]])
        other = start_offload(self.wren, self.ones[1], propose(self.ones[1]).tag)
        with self.shown(one=1, three=1):
            self.assertEqual([self.begin(), self.begin()], [first.pk, other.pk])

    def test_the_queue_foretells_what_will_be_done(self):
        runs = self.start()
        Offload.objects.update(estimated_s=100)
        for count, expected in ((1, [100, 200, 300]), (2, [100, 100, 200]), (3, [100, 100, 100])):
            with self.subTest(count), self.shown(one=count, two=count):
                foretold = [one.free_in_s for one in station_queue(self.station).queued]
                self.assertEqual(foretold, expected)
        with self.shown(one=1):
            Run.objects.filter(pk=runs[0].pk).update(started_at=now())
            waits_for = [one.waits_for for one in station_queue(self.station).queued]
            self.assertEqual(waits_for, [(), ("one",), ("one", "two")], "the last waits for the second too")
        self.assertEqual(len(runs), len(expected))

    def test_whoever_waited_is_asked_for_when_another_ends(self):
        first, second, _ = self.start()
        with self.shown(one=1):
            ProcrastinateJob.objects.all().delete()
            carry_out_first(run_id=first.pk)
        self.assertTrue(ProcrastinateJob.objects.filter(args={"run_id": second.pk}, status="todo").exists())

    def test_what_is_behind_a_run(self):
        (first, *_) = self.start()
        Reader.objects.filter(pk=first.reader_id).update(port="pci-0000:00:14.0-usb-0:1.2:1.0-scsi-0:0:0:1")
        plugs = {"pci-0000:00:14.0-usb-0:1", "pci-0000:00:14.0-usb-0:1.2"}
        self.assertEqual(used_by([first.pk]), {first.pk: {"stand-in one", "stand-in two", *plugs}})

    def test_what_devices_bear_is_learned_from_offloads_of_large_files(self):
        began = now() - timedelta(hours=1)
        alone, *both = self.start()
        large = {"read_files": 10, "read_bytes": 10**10}
        for run, start, seconds in ((alone, 0, 100), (both[0], 1000, 200), (both[1], 1000, 200)):
            start_at = began + timedelta(seconds=start)
            end = start_at + timedelta(seconds=seconds)
            Offload.objects.filter(pk=run.pk).update(started_at=start_at, finished_at=end, **large)
        self.assertEqual(shown_by_offloads(4)["stand-in one"], 1, "each of two took twice as long")
        Offload.objects.update(read_files=100_000)
        self.assertEqual(shown_by_offloads(4), {}, "small files say nothing of a device")
