"""Lists a page at a time, what they remember, and that a production shows nothing of another."""

import re
import shutil
import threading
from datetime import date
from pathlib import Path
from unittest.mock import patch

from django.conf import settings
from django.db import connection, connections
from django.test import TestCase, TransactionTestCase

from ruggedraft.clearing import page, tally, waterline
from ruggedraft.clearing.cases import active_cards, case, cases
from ruggedraft.crew.models import Membership, Role
from ruggedraft.intake.acts.name_reader import name_reader
from ruggedraft.intake.models import Reader
from ruggedraft.intake.watching import look
from ruggedraft.journal.kinds import ACTS, ActKind
from ruggedraft.offloads.feeding import carry_out as carry_out_feed
from ruggedraft.offloads.models import Feed
from ruggedraft.productions.models import _PLACES, Production, RedundancyRule
from ruggedraft.rolls import summaries
from ruggedraft.rolls.models import Copy, CopySummary, Reading, Roll, RollSummary, Waiver
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.standins import hub

from .world import World


class Pages(World, TestCase):
    def setUp(self):
        super().setUp()
        self.offload()
        for n in range(2, 6):
            card, _ = self.new_card(f"A-0{n}", {f"f{i}": bytes([n, i]) for i in range(3)})
            hub.insert(card.label, "slot-2")
            look(self.station)
            self.offload(card)
            hub.remove("slot-2")
            look(self.station)

    def test_tally_page_by_page_is_tally_whole_and_what_is_not_safe_comes_first(self):
        self.post("stores/two/lost", {"reason": "overboard"})
        self.post("stores/two/found")
        self.check(Roll.objects.get(tag="A004"), "two")
        whole = self.get("tally")
        self.assertEqual([roll["tag"] for roll in whole["rolls"]], ["A005", "A003", "A002", "A001", "A004"])
        self.assertEqual((whole["after"], whole["in_all"]), (None, 5))
        with patch.object(tally.page_of_rolls, "__kwdefaults__", {"after": "", "most": 2}):
            found, after = [], ""
            while after is not None:
                answer = self.get(f"tally?after={after}")
                found, after = [*found, *answer["rolls"]], answer["after"]
        self.assertEqual(found, whole["rolls"])

    def test_tally_is_searched_by_roll_and_card(self):
        for words, tags in (("a-03", ["A003"]), ("002", ["A002"]), ("nothing", []), ("a00", 5), ("%", [])):
            with self.subTest(words):
                found = [roll["tag"] for roll in self.get(f"tally?text={words}")["rolls"]]
                self.assertEqual(len(found) if isinstance(tags, int) else found, tags)

    def test_tally_is_narrowed_by_day_camera_state_and_store_and_says_what_days_come_to(self):
        Roll.objects.filter(tag="A002").update(shoot_day=date(2026, 5, 13))
        self.post("stores/two/lost", {"reason": "overboard"})
        self.assertEqual(self.bring("A005", "three"), 200)
        all_but_one = ["A005", "A004", "A003", "A001"]
        cases = (
            ("day=2026-05-13", ["A002"]), ("day=2026-05-14", ["A004", "A003", "A001", "A005"]), ("day=2026-05-15", []),
            ("camera=A", ["A004", "A003", "A001", "A002", "A005"]), ("camera=Z", []),
            ("state=safe", ["A005"]), ("state=below+the+line", []), ("state=short&text=a-04", ["A004"]),
            ("on=three", ["A005"]), ("not_on=three&day=2026-05-14", ["A004", "A003", "A001"]), ("on=nowhere", []),
        )  # fmt: skip
        for words, tags in cases:
            with self.subTest(words):
                answer = self.get(f"tally?{words}")
                self.assertEqual([roll["tag"] for roll in answer["rolls"]], tags)
                self.assertEqual(answer["in_all"], len(tags))
        days = self.get("tally?day=2026-05-13")["days"]
        told = [(one["day"], one["rolls"], one["unsafe"]) for one in days]
        self.assertEqual(told, [("2026-05-14", 4, 3), ("2026-05-13", 1, 1)], "the other days can still be chosen")
        rolls = [roll for roll in self.get("tally")["rolls"] if roll["tag"] in all_but_one]
        self.assertEqual((days[0]["files"], days[0]["bytes"]),
                         (sum(roll["files"] for roll in rolls), sum(roll["bytes"] for roll in rolls)))  # fmt: skip

    def bring(self, tag: str, store: str) -> int:
        answer = self.post(f"bench/rolls/{Roll.objects.get(tag=tag).pk}/bring", {"store": store})
        carry_out_feed(Feed.objects.latest("pk").pk)
        return answer.status_code

    def test_clearing_page_by_page_is_clearing_whole(self):
        whole = self.get("clearing")
        held = whole["cards"][1]
        self.hold("roll", held["tag"], "the lab has not called")
        whole = self.get("clearing")
        self.assertEqual([one["label"] for one in whole["cards"]], ["A-01", "A-03", "A-04", "A-05", "A-02"])
        self.assertEqual([whole["counts"][group] for group in ("sign now", "needs work", "may go back")], [4, 1, 0])
        with patch.object(page.page_of_cards, "__kwdefaults__", {"after": "", "most": 2}):
            found, after = [], ""
            while after is not None:
                answer = self.get(f"clearing?after={after}")
                found, after = [*found, *answer["cards"]], answer["after"]
        self.assertEqual([one["label"] for one in found], [one["label"] for one in whole["cards"]])

    def test_words_that_are_no_place_in_a_list_begin_it(self):
        for path in ("tally?after=x", "tally?after=1-x", "clearing?after=x-y", "clearing?after=-"):
            with self.subTest(path):
                answer = self.get(path)
                self.assertEqual(len(answer.get("rolls") or answer["cards"]), 5)

    def test_a_rolls_files_come_in_the_order_of_their_paths(self):
        with patch("ruggedraft.api.rolls.routes._MOST_FILES", 2):
            found, after = [], ""
            while after is not None:
                answer = self.get(f"tally/rolls/A001/files?after={after}")
                found, after = [*found, *answer["files"]], answer["after"]
        self.assertEqual([one["path"] for one in found], sorted(one["path"] for one in found))
        self.assertEqual(len(found), Roll.objects.get(tag="A001").files.count())


class Remembered(World, TestCase):
    def setUp(self):
        super().setUp()
        self.roll = self.offload()
        self.get("tally")

    def version(self) -> int:
        return Roll.objects.get(pk=self.roll.pk).version

    def test_every_kind_of_fact_counts_whoever_writes_it(self):
        copy, file = Copy.objects.filter(roll=self.roll).first(), self.roll.files.first()
        reading = Reading.objects.filter(copy=copy).first()
        take = self.roll.takes.get()
        facts = {
            "a file": lambda: self.roll.files.create(take=take, path="new", size=1, modified_ns=1),
            "a checksum": lambda: self.roll.files.filter(path="new").update(checksum="x"),
            "a take": lambda: self.roll.takes.create(listing=take.listing, person=self.wren, at=take.at),
            "a result": lambda: reading.results.create(file=file, result="differs"),
            "a copy gone": lambda: self.roll.copies.create(store=self.drives["three"], folder="x").delete(),
            "a waiver": lambda: Waiver.objects.create(
                card=self.card, roll=self.roll, listing=take.listing, path="new", size=1, modified_ns=1, reason="x",
                at=take.at, person=self.wren,
            ),
        }  # fmt: skip
        for what, note in facts.items():
            with self.subTest(what):
                before = self.version()
                note()
                self.assertGreater(self.version(), before)
        self.assertEqual(*(roll_standings([self.roll.pk], in_full=full) for full in (False, True)))

    def test_a_reader_that_sees_half_a_change_keeps_nothing_that_is_believed_later(self):
        """What is worked out while somebody writes is said to be of the version that was there before."""
        places, copy = places_of_all(), Copy.objects.filter(roll=self.roll).first()
        real = summaries.worked_out

        def while_somebody_writes(rolls, of):
            Reading.objects.filter(copy=copy).first().results.create(file=self.roll.files.first(), result="differs")
            return real(rolls, of)

        RollSummary.objects.all().delete()
        with patch.object(summaries, "worked_out", while_somebody_writes):
            roll_standings([self.roll.pk], places)
        self.assertLess(RollSummary.objects.get(roll=self.roll).version, self.version())
        self.assertEqual(*(roll_standings([self.roll.pk], places, in_full=full) for full in (False, True)))

    def test_a_summary_of_before_a_drive_was_found_is_not_of_after(self):
        self.post("stores/two/lost", {"reason": "overboard"})
        self.post("stores/two/found")
        (short,), (full,) = (roll_standings([self.roll.pk], in_full=full).values() for full in (False, True))
        self.assertEqual(short, full)
        self.assertEqual([copy.facts.files > 0 for copy in short.copies], [True, False])

    def test_a_signature_believes_no_summary(self):
        """Somebody changed the remembered figures by other means: a list may be fooled, nobody signs by it."""
        self.on_drive("two").joinpath("DCIM/100AAAAA/AAAA0001.JPG").write_bytes(b"rotten")
        self.check(self.roll, "two")
        self.get("tally")
        CopySummary.objects.update(missing_files=0, broken_files=0, files=self.roll.files.count())
        CopySummary.objects.update(proven_us=CopySummary.objects.filter(proven_us__3__isnull=False).first().proven_us)
        self.assertTrue(cases(active_cards().filter(pk=self.card.pk))[0].verdict.clearable)
        self.assertFalse(case(active_cards().get(pk=self.card.pk)).verdict.clearable)
        self.assertIn("1 of 2 copies", self.sign().json()["title"])


class OneMoment(World, TransactionTestCase):
    """On the real database, with somebody who writes between two queries of one answer."""

    def setUp(self):
        super().setUp()
        self.first = self.offload()
        card, _ = self.new_card("A-02", {"f": b"x"})
        hub.insert("A-02", "slot-2")
        look(self.station)
        self.newest = self.offload(card)
        self.kept = self.on_drive("two", "A002") / "f"
        self.kept.rename(self.base / "away")
        shutil.rmtree(self.on_drive("two", "A001"))
        self.look_at_everything()
        self.assertEqual(set(self.get("waterline")["rolls_short"]), {"A001", "A002"})
        waterline._lately.clear()

    def mend_the_newest(self) -> None:
        """From another thread, and so over a connection of its own."""
        (self.base / "away").rename(self.kept)

        def check() -> None:
            self.check(self.newest, "two")
            connections.close_all()

        thread = threading.Thread(target=check)
        thread.start()
        thread.join()

    def test_a_roll_that_is_mended_meanwhile_does_not_make_those_like_it_safe(self):
        real, asked = summaries.roll_standings, []

        def and_then(*words, **more):
            if not asked:
                asked.append("the groups are known")
                self.mend_the_newest()
            return real(*words, **more)

        with patch.object(summaries, "roll_standings", and_then):
            line = self.get("waterline")
        self.assertEqual(asked, ["the groups are known"])
        self.assertIn("A001", line["rolls_short"])
        self.assertEqual(self.get("waterline")["rolls_short"], ["A001"], "and the next answer knows")

    def test_what_is_worked_out_is_kept_once_the_answer_is_given(self):
        RollSummary.objects.all().delete()
        self.get("tally")
        self.assertEqual(RollSummary.objects.count(), 2)


class OfAnotherProduction(World, TestCase):
    def test_it_shows_nothing_of_this_one_and_does_nothing_to_it(self):
        roll = self.offload()
        other = Production.objects.create(name="Other", first_day=date(2026, 5, 14))
        RedundancyRule.objects.create(production=other)
        Membership.objects.create(person=self.wren, production=other, role=Role.WRANGLER)
        there = lambda path: f"../other/{path}"  # noqa: E731
        self.assertEqual(self.get(there("tally"))["rolls"], [])
        self.assertEqual(self.get(there("clearing"))["cards"], [])
        self.assertEqual(self.get(there("waterline"))["rolls_short"], [])
        copy = Copy.objects.filter(roll=roll).first()
        for path in (
            f"bench/cards/{self.card.pk}/offload", f"copies/{copy.pk}/check", "clearing/holds",
            f"clearing/cards/{self.card.pk}/sign", f"bench/cards/{self.card.pk}/read",
        ):  # fmt: skip
            with self.subTest(path):
                body = {"tag": "A001", "digest": "x", "reason": "x", "on": "roll", "name": roll.tag}
                self.assertEqual(self.post(there(path), body).status_code, 404)
        self.assertEqual(self.get("../nowhere/tally")["status"], 404)

    def test_its_log_tells_what_happened_in_it_and_what_concerns_all(self):
        self.offload()
        other = Production.objects.create(name="Other", first_day=date(2026, 5, 14))
        Membership.objects.create(person=self.wren, production=other, role=Role.WRANGLER)
        name_reader(self.sol, Reader.objects.earliest("pk"), "port side")
        acts = {entry["act"] for entry in self.get("log")["entries"]}
        self.assertLessEqual({"start offload", "finish offload", "introduce store", "insert"}, acts)
        elsewhere = {entry["act"] for entry in self.get("../other/log")["entries"]}
        self.assertIn("name reader", elsewhere)
        self.assertFalse(
            elsewhere & {"start offload", "finish offload", "clear", "introduce store", "insert", "sign in"}
        )

    def test_its_log_is_asked_by_kind_person_and_words_and_says_what_each_row_is_about(self):
        self.offload()
        self.post("setup/cameras", {"letter": "Z", "name": "A001"}, self.sol)
        of_kind = {kind: self.get(f"log?kind={kind}")["entries"] for kind in ActKind}
        whole = self.get("log")
        self.assertEqual(sum(map(len, of_kind.values())), len(whole["entries"]), "each is of one kind")
        self.assertEqual({(one["card"], one["roll"]) for one in of_kind["copies"]}, {(None, "A001")})
        self.assertIn("A-01", {one["card"] for one in of_kind["moves"]})
        self.assertEqual({(one["card"], one["roll"]) for one in of_kind["stores"]}, {(None, None)})
        mine = self.get("log?person=wren&kind=copies")["entries"]
        self.assertEqual([one["act"] for one in mine], ["start offload"])
        self.assertEqual([one["act"] for one in self.get("log?text=READ BACK FROM")["entries"]], ["finish offload"])
        self.assertEqual(self.get("log?text=100%25")["entries"], [], "a per cent sign is a per cent sign")
        self.assertIn({"username": "wren", "name": self.wren.shown_name}, whole["people"])
        self.assertEqual(self.get("log?kind=gossip")["status"], 422)

    def test_no_act_is_called_what_no_kind_knows_by_accident(self):
        """Every act that the code writes, but those about copies, is one that `kinds` names; and no other is."""
        written = set()
        for file in Path(settings.ROOT, "src", "ruggedraft").glob("*/**/*.py"):
            written |= set(re.findall(r"""write(?:_in_each)?\((?:[^"]*,)?\s*f?"([a-z {}.]+)",""", file.read_text()))
        named = {act for acts in ACTS.values() for act in acts}
        copies = {"start offload", "take odd card", "feed later", "ask feed", "ask onward", "ask check",
                  "adopt copy", "leave landing", "go after",
                  "ask join", "order offloads", "ask return", "ask working copies", "ask take-away", "ask making room",
                  "look", "finish {run.kind}", "{act} {run.kind}", "cancel {run.kind}"}  # fmt: skip
        self.assertEqual(written - copies, named)

    def test_its_name_in_addresses_is_its_own_and_no_places(self):
        names = ("Tally", "Low Tide", "low tide!", "潮", "x" * 80)
        made = [Production.objects.create(name=name, first_day=date(2026, 5, 14)).slug for name in names]
        self.assertEqual(made, ["tally-2", "low-tide", "low-tide-2", "production", "x" * 36])

    def test_no_production_can_be_called_what_a_screen_is_called(self):
        web = Path(settings.ROOT, "web", "src")
        screens = set(re.findall(r"path: '/(\w+)", (web / "router.ts").read_text()))
        screens |= set(re.findall(r"PAGE === '(\w+)'", (web / "App.vue").read_text()))
        listed = (web / "api" / "here.ts").read_text().partition("]")[0]
        known = set(re.findall(r"'(\w+)'", listed))
        self.assertEqual(known, screens, "what stands first in an address and is no production")
        self.assertEqual(screens - _PLACES, set())

    def test_the_database_counts_only_the_rolls_that_are_spoken_of(self):
        roll = self.offload()
        card, _ = self.new_card("A-02", {"f": b"x"})
        hub.insert("A-02", "slot-2")
        look(self.station)
        before = Roll.objects.get(pk=roll.pk).version
        other = self.offload(card)
        self.assertGreater(Roll.objects.get(pk=other.pk).version, 0)
        self.assertEqual(Roll.objects.get(pk=roll.pk).version, before)
        with connection.cursor() as cursor:
            cursor.execute("UPDATE rolls_rollfile SET kept_as = kept_as WHERE roll_id = %s", [roll.pk])
        self.assertEqual(Roll.objects.get(pk=roll.pk).version, before + 1)
