"""Which rolls may go from a store: never one whose rule needs that copy, and never one that nobody delivered."""

from dataclasses import replace
from datetime import timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from ruggedraft.core.choosing import of_no_kept_clip
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.making_room import Held, against, room, without
from ruggedraft.core.redundancy import HoldEnd, HoldFact, Rule, judge_roll

from .test_redundancy import ARRAY, GB, NOW, SSD1, SSD2, copy, roll
from .test_second_judge import rolls, rules

BEFORE = NOW - timedelta(days=180)
LONG_AGO = NOW - timedelta(days=200)


def held(*copies, **more) -> Held:
    facts = replace(roll(*copies), delivered=True, **more.pop("facts", {}))
    given = {"delivered_at": LONG_AGO, "files": 10, "bytes": GB, "beside": frozenset({"SSD-1", "SSD-2"}), **more}
    return Held(facts, **given)


THREE = (copy(SSD1), copy(SSD2), copy(ARRAY))


class WhatStays(TestCase):
    def test_why_a_roll_stays(self):
        wait = {"holds": (HoldFact("wait", "Sol"),)}
        over = {"holds": (HoldFact("wait", "Sol", ends=HoldEnd.DELIVERED),)}
        weak = copy(SSD2, level=Evidence.WRITTEN)
        for words, one, reason in (
            ("nothing speaks against it", held(*THREE), ""),
            ("a hold until delivery is over by then", held(*THREE, facts=over), ""),
            ("something is done with it", held(*THREE, open_run="its card is being offloaded"), "being offloaded"),
            ("never delivered", held(*THREE, delivered_at=None), "not delivered"),
            ("delivered lately", held(*THREE, delivered_at=NOW), "later than that"),
            ("delivered in the future", held(*THREE, delivered_at=NOW + timedelta(days=1)), "later than that"),
            ("on hold", held(*THREE, facts=wait), "on hold by Sol: wait"),
            ("all of it is kept", held(*THREE, files=0, kept=2), "somebody keeps all"),
            ("all of it is damaged there", held(*THREE, files=0), "nothing of it is known to be there"),
            ("the rule needs it", held(copy(SSD1), copy(ARRAY)), "is not met without this copy: 1 of 2 copies"),
            ("another is weak", held(copy(SSD1), weak, copy(ARRAY)), "is not met without this copy: 1 of 2 copies"),
            ("the others are one device", held(copy(SSD1), copy(replace(SSD2, devices=SSD1.devices)), copy(ARRAY)),
             "is not met without this copy: 1 of 2 separate devices"),
            ("another is lost", held(copy(SSD1), copy(replace(SSD2, lost=True)), copy(ARRAY)), "1 of 2 copies"),
            ("no other is connected beside it", held(*THREE, beside=frozenset()), "could not be read back first"),
            ("what is connected beside it does not count", held(copy(SSD1), copy(SSD2), copy(ARRAY),
             copy(replace(SSD2, name="tray", counts=False)), beside=frozenset({"tray"})), "could not be read back"),
        ):  # fmt: skip
            with self.subTest(words):
                said = against(one, ARRAY.name, Rule(), NOW, BEFORE)
                self.assertIn(reason, said)
                self.assertEqual(bool(said), bool(reason))

    def test_what_gains_most_comes_first_and_what_was_delivered_at_that_very_moment_goes(self):
        few, many = held(*THREE, bytes=1), held(*THREE, bytes=2, delivered_at=BEFORE)
        found = room([few, many], ARRAY.name, Rule(), NOW, BEFORE)
        self.assertEqual((found.going, found.bytes, found.staying), ((many, few), 3, ()))
        self.assertEqual(Held(few.facts, None, 0, 0).kept, 0)

    @given(st.lists(rolls(), max_size=4), rules, st.sampled_from("abcd"), st.sampled_from([None, LONG_AGO, NOW]))
    def test_whatever_goes_its_rule_is_met_without_this_store(self, each, rule, store, delivered_at):
        """Redundancy never falls by making room: judged by the judge of all verdicts, on random rolls."""
        asked = [Held(facts, delivered_at, 1, n, beside=frozenset("abcd") - {store}) for n, facts in enumerate(each)]
        found = room(asked, store, rule, NOW, BEFORE)
        self.assertEqual(len(found.going) + len(found.staying), len(asked))
        for one in found.going:
            self.assertEqual(one.delivered_at, LONG_AGO)
            left = without(one.facts, store)
            self.assertNotIn(store, {copy.store.name for copy in left.copies})
            self.assertTrue(judge_roll(left, rule, NOW).met)
        self.assertEqual([one.bytes for one in found.going], sorted((one.bytes for one in found.going), reverse=True))
        self.assertTrue(all(stays.reason for stays in found.staying))


class WhatOfAClip(TestCase):
    def test_nothing_that_a_kept_clip_needs_goes(self):
        """Common practice: RAW, JPEG and sidecars of one picture stay together; the card's own index stays too."""
        raw = ("1.RAW", frozenset({"1.RAW", "1.JPG", "1.XMP"}))
        other = ("2.RAW", frozenset({"2.RAW", "2.JPG"}))
        for kept, goes in (({"1.RAW"}, {"2.RAW", "2.JPG"}), ({"1.RAW", "2.RAW"}, set()), (set(), {*raw[1], *other[1]})):
            self.assertEqual(of_no_kept_clip([raw, other], kept), goes)
