"""Each way in which the application once said "clear", "whole" or "verified" wrongly, or refused for ever."""

import os
import shutil
from datetime import timedelta
from unittest.mock import patch

from django.test import TestCase
from django.utils import timezone

from ruggedraft.checks.models import CheckRun
from ruggedraft.checks.running import carry_out as run_check
from ruggedraft.core.stores import LocalStore
from ruggedraft.intake.acts.read_card import read_card
from ruggedraft.intake.models import Insertion
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.offloads.models import Offload
from ruggedraft.rolls.acts.look_at_copy import look_at_copy, look_at_the_oldest
from ruggedraft.rolls.acts.report_loss import report_found, report_loss
from ruggedraft.rolls.models import Copy, Reading
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub

from .deciding import ONE, Deciding
from .oracle import same_but_other
from .world import FILES, SHOT


class LostAndFound(Deciding, TestCase):
    def test_a_lost_store_counts_nowhere_is_not_checked_and_not_written_to(self):
        roll = self.offload()
        report_loss(self.wren, self.drives["two"].device, "fell overboard")
        self.assertEqual(self.planks()["two"], ("lost", len(FILES)))
        self.assertNotEqual(self.slot()["proposal"]["startable"], "all held")
        copy = Copy.objects.get(roll=roll, store__name="two")
        self.refused(self.post(f"copies/{copy.pk}/check"), "reported lost")
        self.refused(self.post(f"bench/cards/{self.card.pk}/offload", {"tag": "A001"}), "reported lost")
        self.assertNotIn("two", str(self.standing()["remedy"]))
        self.assertIn("on 'one'", self.slot()["offload"]["sentence"])
        self.refused(self.sign(), "1 of 2 copies")

    def test_a_plan_takes_no_lost_store_and_may_keep_one_until_it_is_taken_out(self):
        for name in ("one", "three"):
            report_loss(self.wren, self.drives[name].device, "fell overboard")
        setup = self.get("setup")
        self.assertEqual(setup["stores"], [{"name": name, "lost": name != "two"} for name in ("one", "three", "two")])
        plan = next(plan for plan in setup["plans"] if plan["name"] == "all")
        put = f"setup/plans/{plan['id']}"
        self.refused(self.post(put, {**plan, "stores": ["two", "three"]}, method="put"), "'three' was reported lost")
        for kept in (["one", "two"], ["two"]):
            self.assertEqual(self.post(put, {**plan, "stores": kept}, method="put").status_code, 200)
        self.refused(self.post(put, {**plan, "stores": ["one", "two"]}, method="put"), "'one' was reported lost")

    def test_a_check_under_way_when_the_store_is_reported_lost_says_nothing(self):
        roll = self.offload()
        copy = Copy.objects.get(roll=roll, store__name="two")
        self.post(f"copies/{copy.pk}/check")
        asked = CheckRun.objects.get()
        real = LocalStore.read_back_small

        def lost_meanwhile(store, *words):
            if not self.drives["two"].device.losses.exists():
                report_loss(self.wren, self.drives["two"].device, "fell overboard")
            return real(store, *words)

        readings = Reading.objects.count()
        with patch.object(LocalStore, "read_back_small", lost_meanwhile):
            run_check(asked.pk)
        self.assertEqual(Reading.objects.count(), readings)
        self.assertIn("reported lost", CheckRun.objects.get().outcome)

    def test_a_store_that_is_found_counts_once_it_was_checked(self):
        roll = self.offload()
        report_loss(self.wren, self.drives["two"].device, "fell overboard")
        report_found(self.wren, self.drives["two"].device)
        self.assertEqual(self.planks()["two"], ("wanted", 0))
        self.check(roll, "two")
        self.assertEqual(self.planks()["two"], ("verified", len(FILES)))


class FootLine(Deciding, TestCase):
    def test_bytes_short_are_those_that_still_need_copying(self):
        size = sum(map(len, FILES.values()))
        self.assertEqual(self.get("waterline")["bytes_short"], 2 * size, "nothing is copied yet: both copies lack it")
        self.offload()
        self.assertEqual(self.get("waterline")["bytes_short"], 0)
        report_loss(self.wren, self.drives["two"].device, "fell overboard")
        self.assertEqual(self.get("waterline")["bytes_short"], size)

    def test_a_file_harmed_in_every_copy_makes_its_card_one_with_unsaved_files(self):
        roll = self.offload()
        copies = {copy.store.name: copy for copy in Copy.objects.select_related("store__device").filter(roll=roll)}
        for store, waiting in (("one", []), ("two", ["A-01"])):
            (self.on_drive(store) / ONE).unlink()
            look_at_copy(copies[store])
            self.assertEqual(self.get("waterline")["cards_waiting"], waiting, "the last copy of it is the card")

    def test_a_card_whose_copies_are_on_lost_drives_is_one_with_unsaved_files(self):
        self.offload()
        for drive, waiting in (("one", []), ("two", ["A-01"])):
            report_loss(self.wren, self.drives[drive].device, "fell overboard")
            self.assertEqual(self.get("waterline")["cards_waiting"], waiting)


class ListsBesideCopies(Deciding, TestCase):
    def test_files_of_the_card_named_like_our_lists_are_never_touched(self):
        self.change_plan(folder="{production}/{roll}/{date}")
        mine = {"A001.xxh128": b"mine", "A001.xxh128.incomplete": b"mine too", "A001.record.json": b"{}"}
        for name, content in mine.items():
            make.add_file(self.card_folder, name, content, SHOT)
        self.put_in("A-01")
        self.offload()
        for store in ("one", "two"):
            folder = hub.home() / "drives" / store / "Heron/A001/2026-05-14"
            for name, content in mine.items():
                self.assertEqual((folder / name).read_bytes(), content)
            self.assertTrue((folder.parent / "2026-05-14.A001.xxh128").exists())
        self.assertEqual(self.standing()["standing"], "ready to sign")

    def test_whatever_else_lies_where_a_list_would_go_is_left_alone(self):
        place = self.on_drive("one")
        place.parent.mkdir(parents=True)
        there = {}
        for name in ("A001.xxh128", "A001.xxh128.incomplete", "A001.record.json"):
            there[name] = f"somebody's {name}".encode()
            (place.parent / name).write_bytes(there[name])
        self.offload()
        make.add_file(self.card_folder, "LATE.MOV", b"late", SHOT)
        self.put_in("A-01")
        self.offload()
        for name, content in there.items():
            self.assertEqual((place.parent / name).read_bytes(), content)
        self.assertIn(b"LATE.MOV", (place.parent / "A001.2.xxh128").read_bytes())
        self.assertTrue((place.parent / "A001.2.record.json").exists())


class Order(Deciding, TestCase):
    def test_a_check_that_read_a_file_before_it_rotted_cannot_mend_what_was_found_later(self):
        roll = self.offload()
        copy = Copy.objects.get(roll=roll, store__name="two")
        self.post(f"copies/{copy.pk}/check")
        long_check = CheckRun.objects.get()
        rotten = self.on_drive("two") / ONE
        real = LocalStore.read_back_small
        meanwhile = []

        def rot_behind(store, files, *words):
            levels = real(store, files, *words)
            if not meanwhile:
                meanwhile.append(files)
                same_but_other(rotten)
                Offload.objects.update(finished_at=timezone.now())
                make.add_file(self.card_folder, "LATE.MOV", b"late", SHOT)
                read_card(Insertion.objects.get(removed_at=None))
                with patch.object(LocalStore, "read_back_small", real):
                    self.offload()
            return levels

        with patch.object(LocalStore, "read_back_small", rot_behind):
            run_check(long_check.pk)
        self.assertEqual(len(meanwhile), 1)
        self.assertEqual(self.planks()["two"][0], "broken")
        self.refused(self.sign(), "of 2 copies")

    def test_a_clock_that_jumps_makes_no_evidence_fresh_and_loses_no_fault(self):
        self.production.rule.fresh_days = 30
        self.production.rule.save()
        ahead = timezone.now() + timedelta(days=400)
        with clock.at(ahead):
            roll = self.offload()
        self.assertEqual({state for state, _ in self.planks().values()}, {"stale"})
        self.refused(self.sign(), "of 2 copies")
        same_but_other(self.on_drive("two") / ONE)
        self.check(roll, "two")
        self.assertEqual(self.planks()["two"][0], "broken", "found now, though the good reading has a later date")

    def test_another_algorithm_in_the_plan_compares_by_the_rolls_own_and_takes_both(self):
        self.offload()
        self.change_plan(algorithm="md5")
        make.add_file(self.card_folder, "LATE.MOV", b"late", SHOT)
        self.put_in("A-01")
        roll = self.offload()
        self.assertEqual(Offload.objects.latest("id").findings.count(), 0)
        self.assertEqual((roll.algorithm, self.standing()["standing"]), ("xxh128", "ready to sign"))
        self.assertEqual(set(roll.files.get(path="LATE.MOV").others), {"md5"})


class Looks(Deciding, TestCase):
    """A signature rests on a look: of the card, and of every counting copy on a connected store."""

    def test_copies_deleted_just_before_signing_are_missed(self):
        self.offload()
        for store in ("one", "two"):
            shutil.rmtree(self.on_drive(store))
        answer = self.sign()
        self.refused(answer, "0 of 2 copies that count")
        self.assertEqual(set(self.planks().values()), {("broken", 0)})

    def test_nothing_is_signed_before_card_and_copies_were_looked_at(self):
        self.offload()
        case = self.standing()
        words = {"tag": "A001", "digest": case["digest"]}
        for _ in range(2):
            answer = self.post(f"clearing/cards/{self.card.pk}/sign", words).json()
            self.assertEqual((answer["state"], answer["cleared"]), ("looking", False))
        self.assertEqual(len(answer["waiting_for"]), 3)
        self.assertFalse(self.standing()["may_go_back"])

    def test_a_file_put_onto_the_card_in_its_slot_is_seen_when_somebody_signs(self):
        self.offload()
        make.add_file(self.card_folder, "NEW.MOV", b"new", SHOT)
        self.refused(self.sign(), "1 file on this card is in no copy")

    def test_a_file_rewritten_in_its_slot_with_the_same_size_and_time_is_seen(self):
        self.offload()
        same_but_other(self.card_folder / ONE)
        self.refused(self.sign(), "in no copy")

    def test_the_station_looks_by_itself_and_a_cut_or_retimed_file_is_a_fault(self):
        roll = self.offload()
        copy = Copy.objects.select_related("roll", "store__device").get(roll=roll, store__name="two")
        file = self.on_drive("two") / ONE
        content, times = file.read_bytes(), file.stat()
        for hours, (harm, words) in enumerate((
            (lambda: file.write_bytes(b"x"), "differs"),
            (file.unlink, "absent"),
            (lambda: os.utime(file, (1, 1)), "retimed"),
        ), 1):  # fmt: skip
            with self.subTest(words):
                harm()
                with clock.at(timezone.now() + timedelta(hours=hours)):
                    while look_at_the_oldest(self.station):
                        pass
                self.assertEqual(self.planks()["two"], ("broken", len(FILES) - 1))
                self.assertEqual([fault["result"] for fault in self.get("tally/rolls/A001")["faults"]], [words])
                file.write_bytes(content)
                os.utime(file, ns=(times.st_atime_ns, 10**9 if words == "retimed" else times.st_mtime_ns))
                self.check(roll, "two")
                look_at_copy(copy)
                self.assertEqual(self.planks()["two"][0], "verified", "it was read since, and agrees")

    def test_empty_and_clear_are_said_of_a_card_in_a_reader_only_as_long_as_it_was_read_lately(self):
        self.offload()
        self.assertTrue(self.sign().json()["cleared"])
        with clock.at(timezone.now() + timedelta(minutes=61)):
            self.assertEqual(self.standing()["standing"], "not read since")
        make.format_card(self.card_folder)
        read_card(Insertion.objects.get(removed_at=None))
        self.assertEqual(self.standing()["standing"], "empty")
        with clock.at(timezone.now() + timedelta(minutes=61)):
            self.assertEqual(self.standing()["standing"], "not read since")

    def test_a_cleared_card_that_leaves_its_reader_is_handed_back_and_never_clear_from_memory(self):
        self.offload()
        self.sign()
        self.assertEqual(self.standing()["standing"], "cleared")
        hub.remove("slot-1")
        look(self.station)
        self.assertEqual(self.standing()["standing"], "handed back")
        self.assertFalse(self.standing()["may_go_back"])
        make.format_card(self.card_folder)
        self.put_in("A-01")
        self.assertEqual(self.standing()["standing"], "empty")
        hub.remove("slot-1")
        look(self.station)
        self.assertNotIn(self.standing()["standing"], ("empty", "cleared"))

    def test_a_card_signed_for_in_no_reader_is_handed_back_by_an_act(self):
        self.offload()
        hub.remove("slot-1")
        look(self.station)
        self.assertTrue(self.sign().json()["cleared"])
        self.assertEqual(self.standing()["standing"], "cleared")
        self.assertEqual(self.post(f"clearing/cards/{self.card.pk}/hand-back").status_code, 200)
        self.assertEqual(self.standing()["standing"], "handed back")
        self.refused(self.post(f"clearing/cards/{self.card.pk}/hand-back"), "handed back already")
