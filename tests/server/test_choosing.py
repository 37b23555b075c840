"""Marks on clips, what to open, and whether recordings decode: said by people, and no verdict rests on any of it."""

import os
import threading
from datetime import timedelta
from unittest.mock import patch

from django.db import connections
from django.test import TestCase, TransactionTestCase

from ruggedraft.checks.models import CheckRun
from ruggedraft.choosing.acts import mark_clip
from ruggedraft.choosing.models import Mark
from ruggedraft.core.errors import SourceVanished
from ruggedraft.core.pictures import Decoded, GaveWay
from ruggedraft.crew.models import Role
from ruggedraft.days.troubles import troubles_of
from ruggedraft.intake.acts.read_headers import read_headers
from ruggedraft.intake.models import CardListing, Insertion
from ruggedraft.intake.watching import look
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.news.happening import happenings
from ruggedraft.offloads.acts.ask_feed import ask_feed
from ruggedraft.offloads.feeding import carry_out as run_feed
from ruggedraft.pictures.making import decode_due, make_due
from ruggedraft.pictures.models import FileDecoded
from ruggedraft.productions.models import Plan, RedundancyRule
from ruggedraft.rolls.models import Waiver
from ruggedraft.standins import card_maker, hub
from tests.recorder import recorded

from .world import SHOT, World

ROLL = "choosing/rolls/A001"
FIRST, SECOND, THIRD = (f"CLIPS/A00{n}.AVI" for n in (1, 2, 3))


def recording(seconds: int, *, broken: bool = False) -> bytes:
    told = recorded("a.avi", "-f", "lavfi", "-i", f"testsrc2=s=160x90:r=25:d={seconds}", "-c:v", "mjpeg")
    if broken:
        at = told.index(b"00dc", len(told) // 2) + 600
        told = told[:at] + b"\xff\xd9" + b"\x5a" * 800 + told[at + 802 :]
    return told


class Chosen(World):
    def setUp(self):
        super().setUp()
        self.blank_card()
        for path, content in {
            FIRST: recording(1), SECOND: recording(3, broken=True), THIRD: recording(1),
        }.items():  # fmt: skip
            card_maker.add_file(self.card_folder, path, content, SHOT)
        hub.insert("A-01", "slot-1")
        look(self.station)
        read_headers(CardListing.objects.latest("pk"))
        self.roll = self.offload()

    def mark(self, path: str, kind: str, person=None, **words):
        return self.post(f"{ROLL}/marks", {"path": path, "kind": kind, **words}, person or self.wren)

    def said(self) -> list[tuple[str, str, str]]:
        return [(one["path"], one["kind"], one["username"]) for one in self.get(ROLL)["marks"]]

    def decode(self) -> int:
        return decode_due(self.station, threading.Event())

    def choice(self) -> dict:
        return self.get(ROLL)["choice"]

    def waive(self, *paths: str, person=None, **words):
        return self.post(f"{ROLL}/waivers", {"seen": list(paths), **words}, person or self.wren)

    def choose_from_everything(self) -> None:
        RedundancyRule.objects.update(chosen_only=True)


class Choosing(Chosen, TestCase):
    def test_whoever_drops_waives_it_by_name_and_copies_made_from_then_on_leave_it_out(self):
        self.choose_from_everything()
        self.mark(FIRST, "keep")
        self.mark(SECOND, "drop")
        self.mark(THIRD, "drop", self.sol)
        self.assertEqual((self.choice()["kept"], self.choice()["dropped"]), (1, [SECOND, THIRD]))
        self.assertEqual(self.waive(SECOND).status_code, 200)
        waiver = Waiver.objects.get()
        self.assertEqual((waiver.path, waiver.person, waiver.roll), (SECOND, self.wren, self.roll))
        self.assertEqual((self.choice()["waived"], self.choice()["dropped"]), ([SECOND], [THIRD]))
        feed = ask_feed(self.wren, self.roll, "three")
        run_feed(feed.pk)
        there = {str(path.relative_to(self.on_drive("three"))) for path in self.on_drive("three").rglob("*.AVI")}
        self.assertEqual(there, {FIRST, THIRD}, "what nobody waived is copied like what is kept")
        plank = next(one for one in self.tally_roll()["planks"] if one["store"] == "three")
        self.assertEqual((plank["state"], plank["files"], plank["missing_files"]), ("verified", 2, 0))
        self.assertTrue((self.on_drive("one") / SECOND).is_file(), "what is there already stays")
        self.check(self.roll, "three")
        self.assertIn("2 files agree.", CheckRun.objects.latest("pk").outcome, "what was never brought is not missed")

    def tally_roll(self) -> dict:
        return self.get("tally/rolls/A001")["roll"]

    def test_what_was_left_out_of_a_copy_is_never_counted_as_being_there(self):
        self.choose_from_everything()
        self.mark(SECOND, "drop")
        self.waive(SECOND)
        run_feed(ask_feed(self.wren, self.roll, "three").pk)
        Waiver.objects.all().delete()  # as if it had never been
        three = next(one for one in self.tally_roll()["planks"] if one["store"] == "three")
        self.assertEqual((three["files"], three["missing_files"]), (2, 1))
        self.assertNotEqual(three["state"], "verified")

    def test_without_a_rule_for_it_nothing_is_waived_and_everything_is_copied(self):
        self.mark(SECOND, "drop")
        refused = self.waive(SECOND)
        self.assertIn("asks for copies of everything", refused.json()["title"])
        run_feed(ask_feed(self.wren, self.roll, "three").pk)
        self.assertTrue((self.on_drive("three") / SECOND).is_file())

    def test_a_waiver_alone_leaves_nothing_out_where_nobody_may_choose(self):
        self.choose_from_everything()
        self.mark(SECOND, "drop")
        self.waive(SECOND)
        RedundancyRule.objects.update(chosen_only=False)
        run_feed(ask_feed(self.wren, self.roll, "three").pk)
        self.assertTrue((self.on_drive("three") / SECOND).is_file())

    def test_nobody_waives_what_another_dropped_or_what_somebody_keeps(self):
        self.choose_from_everything()
        self.mark(SECOND, "drop", self.sol)
        for seen in ([SECOND], [], [THIRD], [SECOND, THIRD]):
            self.assertEqual(self.waive(*seen).status_code, 409, seen)
        self.mark(THIRD, "drop")
        self.mark(THIRD, "keep", self.sol)
        self.assertIn("Somebody keeps what you dropped", self.waive(THIRD).json()["title"])
        self.mark(FIRST, "drop")
        self.assertEqual(self.waive(SECOND, FIRST).status_code, 409, "not what they were shown")
        self.assertEqual(Waiver.objects.count(), 0)
        self.assertEqual(self.waive(FIRST).status_code, 200)
        self.assertEqual(self.waive(FIRST).status_code, 409, "pressed twice")
        self.assertEqual(Waiver.objects.count(), 1)
        self.assertEqual(self.waive(SECOND, person=self.pip).status_code, 403)

    def test_what_was_delivered_comes_up_before_it_is_waived(self):
        self.choose_from_everything()
        self.mark(SECOND, "drop")
        self.post("tally/deliveries", {"tags": ["A001"], "to": "the office"}, self.sol)
        self.assertIn("was delivered to the office", self.waive(SECOND).json()["title"])
        self.assertEqual(self.waive(SECOND, though_delivered=True).status_code, 200)

    def test_what_somebody_keeps_after_it_was_waived_is_told(self):
        self.choose_from_everything()
        self.mark(SECOND, "drop")
        self.waive(SECOND)
        self.assertEqual(self.choice()["regretted"], [])
        self.mark(SECOND, "keep", self.sol)
        self.assertEqual((self.choice()["regretted"], self.choice()["contested"]), ([SECOND], []))

    def test_what_was_waived_never_comes_back_as_new(self):
        self.choose_from_everything()
        self.mark(SECOND, "drop")
        self.waive(SECOND)
        before = self.standing()["standing"]
        hub.remove("slot-1")
        look(self.station)
        hub.insert("A-01", "slot-1")
        look(self.station)
        self.assertEqual(self.standing()["standing"], before)
        counts = self.get(f"bench/insertions/{Insertion.objects.latest('pk').pk}/contents")["counts"]
        self.assertEqual((counts["new"], counts["held"]), (0, 3))

    def test_one_person_keeps_or_drops_and_two_may_differ(self):
        self.assertEqual(self.mark(FIRST, "keep").status_code, 200)
        self.assertEqual(self.mark(FIRST, "keep").status_code, 200, "twice is once")
        self.assertEqual(self.said(), [(FIRST, "keep", "wren")])
        self.mark(FIRST, "drop")
        self.assertEqual(self.said(), [(FIRST, "drop", "wren")])
        self.assertEqual(self.get(ROLL)["contested"], [])
        self.mark(FIRST, "keep", self.sol)
        self.assertEqual(self.get(ROLL)["contested"], [FIRST])
        words = (
            JournalEntry.objects.filter(subject="A001", act__contains="mark")
            .order_by("pk")
            .values_list("sentence", flat=True)
        )
        self.assertEqual(
            list(words),
            [f"A001, {FIRST}: keep it", f"A001, {FIRST}: not 'keep it' any more", f"A001, {FIRST}: drop it",
             f"A001, {FIRST}: keep it"],
        )  # fmt: skip

    def test_trouble_has_a_place_and_words_and_is_taken_back_by_whoever_said_it(self):
        self.mark(SECOND, "soft", words="from the turn on", timecode="10:00:01:12")
        self.mark(SECOND, "soft", timecode="10:00:02:00")
        first, second = self.get(ROLL)["marks"]
        self.assertEqual((first["timecode"], first["words"]), ("10:00:01:12", "from the turn on"))
        address = f"choosing/marks/{first['id']}"
        self.assertEqual(self.post(address, person=self.pip, method="delete").status_code, 403)
        self.assertEqual(self.post(address, person=self.wren, method="delete").status_code, 200)
        self.assertEqual(self.post(address, person=self.wren, method="delete").status_code, 200)
        self.assertEqual([one["id"] for one in self.get(ROLL)["marks"]], [second["id"]])
        self.assertEqual(Mark.objects.count(), 2, "nothing is forgotten")

    def test_what_says_nothing_is_refused(self):
        for path, words, status in (
            ("CLIPS/NONE.AVI", {"kind": "keep"}, 404),
            (FIRST, {"kind": "other"}, 409),
            (FIRST, {"kind": "soft", "timecode": "10:61:00:00"}, 409),
            (FIRST, {"kind": "soft", "timecode": "later"}, 409),
            (FIRST, {"kind": "other", "words": "x" * 501}, 409),
            (FIRST, {"kind": "five"}, 422),
        ):
            with self.subTest(words):
                answer = self.post(f"{ROLL}/marks", {"path": path, **words}, self.wren)
                self.assertEqual(answer.status_code, status, answer.content)
        self.assertEqual(self.said(), [])

    def test_marks_change_no_verdict(self):
        before = self.standing()["standing"]
        for path in (FIRST, SECOND, THIRD):
            self.mark(path, "drop")
            self.mark(path, "corrupt")
        self.assertEqual(self.standing()["standing"], before)

    def test_spots_are_the_ends_the_longest_and_what_is_known_of(self):
        make_due(self.station, threading.Event())
        self.mark(THIRD, "no_sound")
        self.post("tally/rolls/A001/openings", {"path": FIRST}, self.wren)
        spots = {one["path"]: (one["why"], one["opened"]) for one in self.get(ROLL)["spots"]}
        self.assertEqual(
            spots, {FIRST: (["first"], True), SECOND: (["longest"], False), THIRD: (["last", "trouble"], False)}
        )

    def test_a_broken_recording_is_found_in_an_exact_copy(self):
        self.assertIsNone(self.get(ROLL)["decoding"])
        self.assertEqual(self.decode(), 0, "nobody asked")
        self.assertEqual(self.post(f"{ROLL}/decoding", person=self.wren).status_code, 200)
        self.assertEqual((self.get(ROLL)["decoding"]["recordings"], self.get(ROLL)["decoding"]["left"]), (3, 3))
        before = self.standing()["standing"]
        self.assertEqual(self.decode(), 3)
        found = self.get(ROLL)
        self.assertEqual({name: found["decoding"][name] for name in ("recordings", "left", "breaking", "unknown")},
                         {"recordings": 3, "left": 0, "breaking": 1, "unknown": 0})  # fmt: skip
        self.assertIn("breaks", {one["path"]: one["why"] for one in found["spots"]}[SECOND])
        clips = {one["path"]: one["decoded"] for one in self.get("footage/rolls/A001/clips")["clips"]}
        self.assertEqual((clips[FIRST]["frames"], clips[FIRST]["in_all"], clips[FIRST]["note"]), (25, 0, ""))
        (broken,) = clips[SECOND]["breaks"]
        self.assertTrue(1 <= broken["at_s"] <= 2, broken)
        self.assertTrue(JournalEntry.objects.filter(act="find break", sentence__contains=SECOND).exists())
        self.assertEqual(self.standing()["standing"], before, "the copy is exact")
        self.assertEqual(self.decode(), 0)
        self.post(f"{ROLL}/decoding", person=self.wren)
        self.assertEqual(self.decode(), 3, "asked again, decoded again")

    def test_a_plan_has_rolls_decoded_that_were_begun_since_and_a_break_is_told_everywhere(self):
        opened = self.roll.opened_at
        Plan.objects.update(decodes_since=opened + timedelta(seconds=1))
        self.assertEqual(self.decode(), 0, "it was begun before")
        plan = self.get("setup")["plans"][0]
        self.assertTrue(plan["decodes"])
        Plan.objects.update(decodes_since=opened)
        self.assertEqual((self.decode(), self.decode()), (3, 0), "each once")
        self.assertEqual(self.get(ROLL)["decoding"]["breaking"], 1)
        span = (now() - timedelta(hours=1), now() + timedelta(hours=1))
        told = [one.sentence for one in troubles_of(self.production, span) if SECOND in one.sentence]
        self.assertEqual(len(told), 1)
        self.assertIn(f"{SECOND} does not decode as it should", told[0])
        self.assertIn(told[0], [one.sentence for one in happenings(self.production)])
        self.post(f"setup/plans/{plan['id']}", {**plan, "decodes": False}, self.sol, method="put")
        self.assertIsNone(Plan.objects.get(pk=plan["id"]).decodes_since)

    def test_what_speaks_against_giving_the_card_back_is_said_and_changes_nothing(self):
        here = f"choosing/cards/{self.card.pk}"
        before = self.standing()["standing"], self.standing()["digest"]
        self.assertEqual(self.get(here), [])
        self.mark(FIRST, "keep")
        self.mark(FIRST, "seen")
        self.assertEqual(self.get(here), [], "what is well speaks against nothing")
        self.post(f"{ROLL}/decoding")
        (asked,) = self.get(here)
        self.assertEqual((asked["tag"], asked["undecoded"], asked["breaking"]), ("A001", 3, []))
        decode_due(self.station, threading.Event())
        self.mark(FIRST, "drop", self.sol)
        self.mark(THIRD, "soft")
        (found,) = self.get(here)
        told = {
            "tag": "A001",
            "trouble": [THIRD],
            "contested": [FIRST],
            "breaking": [SECOND],
            "unknown": [],
            "undecoded": 0,
        }
        self.assertEqual(found, told)
        FileDecoded.objects.filter(file__path=FIRST).update(note="the copy that was read is not what it was")
        self.assertEqual(self.get(here)[0]["unknown"], [FIRST], "nobody is to take it for well")
        self.assertEqual((self.standing()["standing"], self.standing()["digest"]), before)

    def test_a_copy_that_is_not_what_it_was_says_nothing_of_the_recording(self):
        self.post(f"{ROLL}/decoding", person=self.wren)
        for store in ("one", "two"):
            path = self.on_drive(store) / FIRST
            times = path.stat()
            path.chmod(0o644)
            content = path.read_bytes()
            at = content.index(b"00dc", len(content) // 2) + 600
            path.write_bytes(content[:at] + b"\xff\xd9" + b"\x5a" * 300 + content[at + 302 :])
            os.utime(path, ns=(times.st_atime_ns, times.st_mtime_ns))
        self.decode()
        row = FileDecoded.objects.get(file__path=FIRST)
        self.assertEqual((row.in_all, row.note), (0, "the copy that was read is not what it was: have it checked"))

    def test_a_drive_that_goes_in_the_middle_says_nothing(self):
        self.post(f"{ROLL}/decoding", person=self.wren)
        with (
            patch("ruggedraft.pictures.making.decode", return_value=Decoded(in_all=1)),
            patch("ruggedraft.pictures.making.checksum_of", side_effect=SourceVanished("gone")),
        ):
            self.assertEqual(self.decode(), 0)
        self.assertFalse(FileDecoded.objects.exists())

    def test_a_file_that_no_copy_holds_any_more_keeps_no_other_waiting(self):
        self.post(f"{ROLL}/decoding", person=self.wren)
        for store in ("one", "two"):
            path = self.on_drive(store) / FIRST
            path.chmod(0o644)
            path.write_bytes(b"shorter")
        self.assertEqual(self.decode(), 3)
        row = FileDecoded.objects.get(file__path=FIRST)
        self.assertEqual((row.in_all, row.note), (0, "no copy at hand holds it as it was taken"))
        self.assertEqual(self.get(ROLL)["decoding"]["unknown"], 1)

    def test_whoever_asks_while_one_is_being_decoded_has_it_decoded_again(self):
        self.post(f"{ROLL}/decoding", person=self.wren)

        def asks(*given, **words):
            if self.asking:
                self.asking = False
                self.post(f"{ROLL}/decoding", person=self.wren)
            return Decoded(frames=1)

        self.asking = True
        with patch("ruggedraft.pictures.making.decode", side_effect=asks) as decoded:
            self.decode()
        self.assertEqual((decoded.call_count, self.get(ROLL)["decoding"]["left"]), (4, 0))

    def test_a_card_comes_first(self):
        self.post(f"{ROLL}/decoding", person=self.wren)
        with patch("ruggedraft.pictures.making.decode", side_effect=GaveWay):
            self.assertEqual(self.decode(), 0)
        self.assertEqual(self.get(ROLL)["decoding"]["left"], 3)

    def test_who_may(self):
        for role in (Role.CLIENT, Role.ASSISTANT):
            person = self.person(f"one-{role}", role)
            self.assertEqual(self.post(f"{ROLL}/decoding", person=person).status_code, 403)
            self.assertEqual(self.mark(FIRST, "keep", person).status_code, 200 if role == Role.ASSISTANT else 403)


class KeptMeanwhile(Chosen, TransactionTestCase):
    def test_a_clip_that_somebody_keeps_in_the_same_moment_is_not_waived(self):
        """Whoever waives waits for the mark that is being made, and sees it."""
        RedundancyRule.objects.update(chosen_only=True)
        self.mark(SECOND, "drop")
        marked, waiting, answers = threading.Event(), threading.Event(), []
        real = mark_clip.write

        def slowly(*words, **more):
            marked.set()
            waiting.wait(2)  # so long it is not committed; nobody says when the other one waits
            return real(*words, **more)

        def keep() -> None:
            with patch.object(mark_clip, "write", slowly):
                self.post(f"{ROLL}/marks", {"path": SECOND, "kind": "keep"}, self.sol)
            connections.close_all()

        self._same_client(self.sol)
        thread = threading.Thread(target=keep)
        thread.start()
        self.assertTrue(marked.wait(10))
        answers.append(self.waive(SECOND))
        thread.join(20)
        self.assertEqual((answers[0].status_code, Waiver.objects.count()), (409, 0))
        self.assertEqual(self.get(ROLL)["choice"]["contested"], [SECOND])
