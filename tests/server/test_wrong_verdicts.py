"""Each way in which the application once said "clear", "whole" or "verified" wrongly, or refused for ever."""

import os
import shutil
from datetime import timedelta
from pathlib import Path
from unittest.mock import patch

from django.test import TestCase
from django.utils import timezone

from ruggedraft.checks.models import CheckRun
from ruggedraft.checks.tasks import run as run_check
from ruggedraft.core.stores import LocalStore
from ruggedraft.intake.acts.note_readers import note_readers
from ruggedraft.intake.acts.read_card import read_card
from ruggedraft.intake.models import Card, Insertion, Reader
from ruggedraft.intake.readers import CardSeen, Slot
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.offloads.models import Offload
from ruggedraft.offloads.running import run
from ruggedraft.productions.models import Camera
from ruggedraft.rolls.acts.look_at_copy import look_at_copy, look_at_the_oldest
from ruggedraft.rolls.acts.report_loss import report_found, report_loss
from ruggedraft.rolls.models import Copy, Reading, Roll
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub
from ruggedraft.standins.drives import make_drive

from .deciding import Deciding
from .world import FILES, SHOT

ONE, TWO = "DCIM/100AAAAA/AAAA0001.JPG", "DCIM/100AAAAA/AAAA0002.JPG"


class Wrong(Deciding):
    def planks(self, tag: str = "A001") -> dict[str, tuple[str, int]]:
        """By store: the copy's state, and how many files it is known to hold."""
        roll = self.get(f"tally/rolls/{tag}")["roll"]
        return {plank["store"]: (plank["state"], plank["files"]) for plank in roll["planks"]}

    def slot(self) -> dict:
        return self.get("bench")["slots"][0]

    def refused(self, answer, words: str) -> None:
        self.assertEqual(answer.status_code, 409, answer.content)
        self.assertIn(words, answer.json()["title"])

    def rewrite(self, path: Path, content: bytes | None = None) -> None:
        """Other bytes under the same name, size and time."""
        times, old = path.stat(), path.read_bytes()
        path.write_bytes(content if content is not None else bytes(byte ^ 1 for byte in old))
        os.utime(path, ns=(times.st_atime_ns, times.st_mtime_ns))


class HalfACard(Wrong, TestCase):
    """A copy of half a card is never whole, at any moment of a run, after a cancel, a pull or a crash."""

    def run_until(self, stop) -> dict:
        self.assertEqual(self.start().status_code, 200)
        offload = Offload.objects.select_related("roll", "card", "station").get()
        with patch.object(hub.PacedSource, "wait_for", stop(offload)):
            run(offload)
        look(self.station)
        return self.slot()

    def test_a_card_pulled_in_the_middle_leaves_no_solid_plank_and_no_whole_copy(self):
        make.add_file(self.card_folder, "Z.MOV", bytes(6_000_000), SHOT)
        self.put_in("A-01")

        def pull(offload):
            def pulled(source, count):
                if count > 50_000:
                    hub.remove("slot-1")

            return pulled

        self.run_until(pull)
        for state, files in self.planks().values():
            self.assertIn(state, ("partial", "wanted"))
            self.assertLess(files, len(FILES) + 1)
        roll = self.get("tally/rolls/A001")["roll"]
        self.assertEqual((roll["state"], roll["files"]), ("short", len(FILES) + 1))
        self.assertGreater(roll["unread"], 0)
        case = self.standing()
        self.assertEqual((case["may_go_back"], case["lashed"]), (False, False))

    def test_a_run_stopped_before_its_first_byte_is_whole_on_no_store(self):
        def cancel(offload):
            offload.cancel_asked_at = timezone.now()
            offload.save()
            return lambda source, count: None

        slot = self.run_until(cancel)
        self.assertEqual(slot["offload"]["state"], "cancelled")
        self.assertIn("on no store", slot["offload"]["sentence"])
        self.assertEqual({store["state"] for store in slot["offload"]["stores"]}, {"wanted"})
        self.assertEqual(Reading.objects.count(), 0)

    def test_the_roll_has_all_its_files_from_the_moment_it_is_taken(self):
        self.start()
        roll = self.get("tally/rolls/A001")["roll"]
        self.assertEqual((roll["files"], roll["unread"], roll["state"]), (len(FILES), len(FILES), "short"))

    def test_a_paused_run_does_not_say_that_it_was_cancelled(self):
        self.start()
        offload = Offload.objects.get()
        self.post(f"bench/offloads/{offload.pk}/pause")
        self.assertEqual(self.slot()["offload"]["state"], "paused")
        self.assertNotIn("cancel", str(self.slot()).lower())

    def test_a_run_that_is_stopped_takes_nothing_away_from_what_stood(self):
        self.offload()
        make.add_file(self.card_folder, "LATE.MOV", b"late", SHOT)
        read_card(Insertion.objects.get(removed_at=None))
        self.start()
        Offload.objects.filter(finished_at=None).update(cancel_asked_at=timezone.now())
        self.run_all()
        self.assertEqual(set(self.planks().values()), {("partial", len(FILES))})
        self.assertEqual(self.get("tally/rolls/A001")["faults"], [])


class Account(Wrong, TestCase):
    """What is left behind or waived is part of the roll's account wherever the roll is shown."""

    def test_one_of_three_taken_and_two_waived_is_said_before_and_after_signing(self):
        self.stills(3)
        self.start(picked=["DCIM/100SKERR/SKR_0001.JPG"])
        self.run_all()
        self.assertEqual(self.standing()["left_in_all"], 2)
        self.post(f"clearing/cards/{self.card.pk}/waive-left", {"reason": "out of focus", "count": 2})
        before = self.standing()
        self.assertEqual((before["standing"], before["waived_in_all"]), ("ready to sign", 2))
        self.assertIn("1 of its 3 files are in enough copies. 2 were waived", before["sentence"])
        self.assertEqual([plank["files"] for plank in before["planks"]], [1, 1])
        self.assertTrue(self.sign().json()["cleared"])
        after = self.standing()
        self.assertEqual([waiver["reason"] for waiver in after["waived"]], ["out of focus"] * 2)
        detail = self.get("tally/rolls/A001")
        self.assertEqual((detail["roll"]["left"], len(detail["left_behind"])), (2, 2))

    def test_a_file_of_the_roll_that_cannot_be_read_may_be_waived_and_the_roll_says_so(self):
        bad = self.card_folder / ONE
        real = hub.PacedSource.open

        def broken(source, path):
            if path == ONE:
                from ruggedraft.core.errors import SourceUnreadable

                raise SourceUnreadable("it could not be read off the card")
            return real(source, path)

        with patch.object(hub.PacedSource, "open", broken):
            self.put_in("A-01")
            self.offload()
            self.assertEqual(self.get("tally/rolls/A001")["roll"]["unread"], 1)
            self.post(f"clearing/cards/{self.card.pk}/waive", {"path": ONE, "reason": "a bad sector"})
            self.assertEqual(self.standing()["standing"], "ready to sign", self.standing()["sentence"])
            self.assertTrue(self.sign().json()["cleared"])
        roll = self.get("tally/rolls/A001")["roll"]
        self.assertEqual((roll["state"], roll["waived"], roll["unread"], roll["files"]), ("safe", 1, 0, len(FILES) - 1))
        self.assertTrue(bad.exists())

    def test_a_choice_of_nothing_is_not_every_file_on_every_store(self):
        self.stills(2)
        choice = self.post(f"bench/cards/{self.card.pk}/choice", {"picked": []}).json()["proposal"]
        self.assertEqual(choice["startable"], "nothing chosen")
        self.assertNotIn("very file", choice["hint"])
        self.refused(
            self.post(f"bench/cards/{self.card.pk}/offload", {"tag": "A001", "take": {"picked": []}}), "chosen"
        )

    def test_one_clip_taken_and_chosen_again_is_what_the_copies_hold_and_not_the_card(self):
        self.stills(3)
        self.start(picked=["DCIM/100SKERR/SKR_0001.JPG"])
        self.run_all()
        size = (self.card_folder / "DCIM/100SKERR/SKR_0001.JPG").stat().st_size
        slot = self.slot()
        self.assertEqual({store["bytes"] for store in slot["offload"]["stores"]}, {size})
        again = self.post(f"bench/cards/{self.card.pk}/choice", {"picked": ["DCIM/100SKERR/SKR_0001.JPG"]}).json()
        self.assertEqual(again["proposal"]["startable"], "chosen held")
        self.assertIn("the card has more", again["proposal"]["hint"])


class LostAndFound(Wrong, TestCase):
    def test_a_lost_store_counts_nowhere_is_not_checked_and_not_written_to(self):
        roll = self.offload()
        report_loss(self.wren, self.drives["two"].device, "fell overboard")
        self.assertEqual(self.planks()["two"], ("lost", len(FILES)))
        self.assertNotEqual(self.slot()["proposal"]["startable"], "all held")
        copy = Copy.objects.get(roll=roll, store__name="two")
        self.refused(self.post(f"tally/copies/{copy.pk}/check"), "reported lost")
        self.refused(self.post(f"bench/cards/{self.card.pk}/offload", {"tag": "A001"}), "reported lost")
        self.assertNotIn("two", str(self.standing()["remedy"]))
        self.assertIn("on 'one'", self.slot()["offload"]["sentence"])
        self.refused(self.sign(), "1 of 2 copies")

    def test_a_check_under_way_when_the_store_is_reported_lost_says_nothing(self):
        roll = self.offload()
        copy = Copy.objects.get(roll=roll, store__name="two")
        self.post(f"tally/copies/{copy.pk}/check")
        asked = CheckRun.objects.select_related("copy__roll", "copy__store__device", "station").get()
        real = LocalStore.read_back

        def lost_meanwhile(store, *words):
            if not self.drives["two"].device.losses.exists():
                report_loss(self.wren, self.drives["two"].device, "fell overboard")
            return real(store, *words)

        readings = Reading.objects.count()
        with patch.object(LocalStore, "read_back", lost_meanwhile):
            run_check(asked)
        self.assertEqual(Reading.objects.count(), readings)
        self.assertIn("reported lost", CheckRun.objects.get().trouble)

    def test_a_store_that_is_found_counts_once_it_was_checked(self):
        roll = self.offload()
        report_loss(self.wren, self.drives["two"].device, "fell overboard")
        report_found(self.wren, self.drives["two"].device)
        self.assertEqual(self.planks()["two"], ("wanted", 0))
        self.check(roll, "two")
        self.assertEqual(self.planks()["two"], ("verified", len(FILES)))


class FootLine(Wrong, TestCase):
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


class ListsBesideCopies(Wrong, TestCase):
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


class Order(Wrong, TestCase):
    def test_a_check_that_read_a_file_before_it_rotted_cannot_mend_what_was_found_later(self):
        roll = self.offload()
        copy = Copy.objects.get(roll=roll, store__name="two")
        self.post(f"tally/copies/{copy.pk}/check")
        long_check = CheckRun.objects.select_related("copy__roll", "copy__store__device", "station").get()
        rotten = self.on_drive("two") / ONE
        real = LocalStore.read_back
        meanwhile = []

        def rot_behind(store, path, *words):
            level = real(store, path, *words)
            if path.endswith(ONE) and not meanwhile:
                meanwhile.append(path)
                self.rewrite(rotten)
                Offload.objects.update(finished_at=timezone.now())
                make.add_file(self.card_folder, "LATE.MOV", b"late", SHOT)
                read_card(Insertion.objects.get(removed_at=None))
                with patch.object(LocalStore, "read_back", real):
                    self.offload()
            return level

        with patch.object(LocalStore, "read_back", rot_behind):
            run_check(long_check)
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
        self.rewrite(self.on_drive("two") / ONE)
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


class Looks(Wrong, TestCase):
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
        self.rewrite(self.card_folder / ONE)
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
                    while look_at_the_oldest():
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
        self.refused(self.post(f"clearing/cards/{self.card.pk}/hand-back"), "not clear")


class SameNames(Wrong, TestCase):
    """Same name, size and time are a hint and no proof."""

    def test_a_formatted_card_with_the_same_names_sizes_and_times_is_another_roll(self):
        self.offload()
        self.sign()
        make.format_card(self.card_folder)
        for path, content in FILES.items():
            make.add_file(self.card_folder, path, bytes(byte ^ 1 for byte in content), SHOT)
        self.put_in("A-01")
        self.assertFalse(self.standing()["may_go_back"])
        proposal = self.slot()["proposal"]
        self.assertEqual((proposal["tag"], proposal["startable"]), ("A002", "ready"))
        self.offload()
        self.assertEqual(self.standing()["standing"], "ready to sign", self.standing()["sentence"])
        self.assertEqual(self.standing()["tag"], "A002")
        self.assertEqual((self.on_drive("one", "A002") / ONE).read_bytes(), (self.card_folder / ONE).read_bytes())
        self.assertNotEqual((self.on_drive("one", "A001") / ONE).read_bytes(), (self.card_folder / ONE).read_bytes())

    def test_a_new_serial_begins_a_new_roll_though_every_byte_is_the_same(self):
        self.offload()
        self.sign()
        Insertion.objects.update(serial="ANOTHER")
        Roll.objects.update(fs_serial="SNA-01")
        self.assertEqual(self.standing()["standing"], "not offloaded")
        self.assertEqual(self.slot()["proposal"]["tag"], "A002")

    def test_times_shifted_by_a_zone_are_still_the_same_files(self):
        self.offload()
        for file in self.card_folder.rglob("*"):
            times = file.lstat()
            moved = times.st_mtime_ns - 7 * 3600 * 10**9
            os.utime(file, ns=(times.st_atime_ns, moved)) if file.is_file() else None
        self.put_in("A-01")
        self.assertEqual(self.standing()["standing"], "ready to sign")
        self.assertEqual(self.slot()["proposal"]["startable"], "all held")

    def test_one_more_picture_after_a_clearance_can_be_offloaded_and_signed_for(self):
        self.offload()
        self.sign()
        make.add_file(self.card_folder, "LATE.MOV", b"late", SHOT)
        self.put_in("A-01")
        self.assertEqual(self.standing()["blocks"][0]["kind"], "revoked")
        self.offload()
        self.assertEqual(self.standing()["standing"], "ready to sign")
        self.assertTrue(self.sign().json()["cleared"])

    def test_a_changed_file_is_taken_into_a_roll_of_its_own_and_the_card_can_be_cleared(self):
        self.offload()
        make.add_file(self.card_folder, ONE, b"another picture", SHOT + timedelta(minutes=1))
        self.put_in("A-01")
        self.assertEqual(self.offload().tag, "A002")
        self.assertTrue(self.sign(tag="A002").json()["cleared"])

    def test_a_damaged_copy_is_set_aside_and_written_again_by_the_next_offload(self):
        roll = self.offload()
        rotten = self.on_drive("two") / ONE
        self.rewrite(rotten)
        bad = rotten.read_bytes()
        self.check(roll, "two")
        self.assertEqual(self.slot()["proposal"]["startable"], "ready")
        self.offload()
        self.assertEqual(self.slot()["proposal"]["startable"], "all held")
        self.assertEqual(rotten.read_bytes(), FILES[ONE])
        aside = hub.home() / "drives/two/.raft-set-aside/1/Heron/2026-05-14/A001" / ONE
        self.assertEqual(aside.read_bytes(), bad, "nothing is destroyed, the damaged file least of all")

    def test_somebody_elses_file_under_our_name_is_never_moved(self):
        place = self.on_drive("two") / ONE
        place.parent.mkdir(parents=True)
        place.write_bytes(b"holiday")
        for _ in range(2):
            self.offload()
            self.assertEqual(place.read_bytes(), b"holiday")
        self.assertEqual(self.planks()["two"][0], "broken")


class Vanished(Wrong, TestCase):
    """Files that vanish are news, and never silently an empty card or the next roll."""

    def test_uncopied_files_gone_from_a_card_are_a_question_that_names_them(self):
        make.format_card(self.card_folder)
        self.put_in("A-01")
        case = self.standing()
        self.assertEqual((case["standing"], case["gone_in_all"]), ("files gone", len(FILES)))
        self.assertIn(ONE, case["gone"])
        self.assertEqual(self.get("waterline")["cards_waiting"], ["A-01"])
        self.assertEqual(self.slot()["gone_in_all"], len(FILES))
        make.add_file(self.card_folder, "B/B0001.MOV", b"next", SHOT)
        self.put_in("A-01")
        self.assertIn("say what became of them", self.slot()["question"])
        where = f"clearing/cards/{self.card.pk}/gone"
        self.refused(self.post(where, {"reason": " ", "count": len(FILES)}), "what became")
        self.refused(self.post(where, {"reason": "tests", "count": 1}), "look again")
        self.assertEqual(self.post(where, {"reason": "camera tests", "count": len(FILES)}, self.pip).status_code, 403)
        self.assertEqual(self.post(where, {"reason": "camera tests", "count": len(FILES)}).status_code, 200)
        self.assertEqual(self.slot()["proposal"]["tag"], "A001")
        self.assertIn("camera tests", self.get("log")["entries"][0]["sentence"])

    def test_files_that_are_back_or_in_a_copy_are_no_question(self):
        kept = {path: (self.card_folder / path).read_bytes() for path in (ONE, TWO)}
        (self.card_folder / ONE).unlink()
        self.put_in("A-01")
        self.assertEqual(self.standing()["gone"], [ONE])
        make.add_file(self.card_folder, ONE, kept[ONE], SHOT)
        self.put_in("A-01")
        self.assertEqual(self.standing()["gone_in_all"], 0)
        self.offload()
        make.format_card(self.card_folder)
        self.put_in("A-01")
        self.assertEqual((self.standing()["standing"], self.standing()["gone_in_all"]), ("empty", 0))

    def test_an_empty_twin_of_a_card_is_asked_about_and_can_be_told_apart(self):
        make.make_card(hub.home(), make.CardSheet("TWIN", "TWIN", "SD", 64 * 10**9, clone_of="SNA-01"))
        hub.remove("slot-1")
        look(self.station)
        self.put_in("TWIN", "slot-2")
        self.assertEqual(self.standing()["standing"], "files gone")
        stay = Insertion.objects.get(removed_at=None)
        where = f"bench/insertions/{stay.pk}/introduce"
        answer = self.post(where, {"label": "A-09", "camera": "A", "is_another": True})
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(self.standing(Card.objects.get(label="A-09"))["standing"], "empty")
        case = self.standing()
        self.assertEqual((case["standing"], case["gone_in_all"]), ("not offloaded", 0))

    def test_a_formatted_card_with_a_new_serial_is_said_to_be_itself_by_its_label(self):
        self.offload()
        self.sign()
        hub.remove("slot-1")
        look(self.station)
        make.make_card(hub.home(), make.CardSheet("NEWSERIAL", "A-01", "SD", 64 * 10**9))
        hub.insert("NEWSERIAL", "slot-2")
        look(self.station)
        slot = self.get("bench")["slots"][1]
        self.assertIn("A-01", slot["identity"]["known"])
        self.assertEqual(
            self.post(f"bench/insertions/{slot['insertion_id']}/recognise", {"label": "a-01"}).status_code, 200
        )
        self.assertEqual(self.standing()["standing"], "empty")

    def test_a_stay_that_has_ended_is_not_recognised(self):
        make.make_card(hub.home(), make.CardSheet("X1", "X1", "SD", 1))
        hub.insert("X1", "slot-2")
        look(self.station)
        stay = Insertion.objects.get(reader__name="slot 2", removed_at=None)
        hub.remove("slot-2")
        look(self.station)
        self.refused(self.post(f"bench/insertions/{stay.pk}/recognise", {"label": "A-01"}), "taken out")
        self.refused(self.post(f"bench/insertions/{stay.pk}/introduce", {"label": "X", "camera": "A"}), "taken out")

    def test_a_rolls_files_that_were_never_read_and_are_gone_are_asked_about_too(self):
        self.start()
        make.format_card(self.card_folder)
        self.put_in("A-01")
        Offload.objects.update(cancel_asked_at=timezone.now())
        self.run_all()
        self.assertEqual(self.standing()["standing"], "files gone")


class Readers(Wrong, TestCase):
    def test_two_readers_of_one_name_on_two_ports_are_two_readers(self):
        blank = CardSeen("BLANK", "SD", 1, token="b")
        slots = [
            Slot("reader 1", str(self.base / "x"), CardSeen("FULL", "SD", 1, token="a"), port="usb-1"),
            Slot("reader 1", str(self.base / "y"), blank, port="usb-2"),
        ]
        note_readers(self.station, slots)
        note_readers(self.station, slots)
        self.assertEqual(Reader.objects.filter(name="reader 1").count(), 2)
        stays = Insertion.objects.filter(reader__name="reader 1", removed_at=None)
        self.assertEqual({(stay.serial, stay.reader.port) for stay in stays}, {("FULL", "usb-1"), ("BLANK", "usb-2")})

    def test_two_cameras_whose_plan_has_one_prefix_never_get_one_tag(self):
        self.change_plan(roll_prefix="HL")
        other = Camera.objects.create(production=self.production, letter="B", name="B", kind="cinema", plan=self.plan)
        self.assertEqual(self.offload().tag, "HL001")
        self.camera = other
        card, _ = self.new_card("B-01", FILES)
        self.put_in("B-01", "slot-2")
        self.assertEqual(self.offload(card).tag, "HL002")


class Clones(Wrong, TestCase):
    def test_a_clone_of_a_drive_that_lacks_a_roll_is_seen_to_lack_it(self):
        self.offload()
        two = hub.home() / "drives" / "two"
        shutil.copytree(two, two.with_name("clone"))
        shutil.rmtree(two.with_name("clone") / "Heron")
        two.rename(two.with_name("away"))
        two.with_name("clone").rename(two)
        with clock.at(timezone.now() + timedelta(hours=1)):
            while look_at_the_oldest():
                pass
        self.assertEqual(self.planks()["two"][0], "broken")

    def test_a_drive_of_another_make_with_the_same_marker_is_not_the_store(self):
        self.offload()
        make_drive(hub.home() / "drives" / "two", identity="impostor", capacity=10**9)
        look(self.station)
        self.assertIn("another device", self.drives["two"].__class__.objects.get(name="two").sighting.trouble)
