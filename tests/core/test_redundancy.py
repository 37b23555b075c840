"""The rules at the heart: what counts, what blocks, what it would take."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.redundancy import (
    CardFacts,
    CopyFacts,
    FileFact,
    HoldFact,
    RollFacts,
    Rule,
    StoreFacts,
    WaiverFact,
    judge_card,
    judge_roll,
    signatures_missing,
    survival,
    what_if_lost,
    what_would_it_take,
)

NOW = datetime(2026, 5, 14, 12, tzinfo=UTC)
GB = 10**9
CLIP = FileFact("DCIM/100AAAAA/AAAA0001.JPG", 5, 7)


def store(name: str, device: str | None = None, location: str = "cart", medium: str = "ssd", **more) -> StoreFacts:
    return StoreFacts(name, device or name, location, medium, free=100 * GB, **more)


def copy(place: StoreFacts, level: Evidence = Evidence.READ_BACK, **more) -> CopyFacts:
    return CopyFacts(place, level, more.pop("verified_at", NOW), **more)


def roll(*copies: CopyFacts, **more) -> RollFacts:
    return RollFacts("A012", frozenset({CLIP}), copies, bytes=2 * GB, **more)


SSD1, SSD2 = store("SSD-1"), store("SSD-2")
ARRAY = store("array", location="office", medium="array", offsite=True)
BUCKET = store("bucket", location="north", medium="cloud", offsite=True)
TWO = Rule()


class WorkedExamples(TestCase):
    """The table of worked examples, row by row."""

    def test_two_drives_on_the_cart_are_clearable_and_survive_one_device(self):
        verdict = judge_roll(roll(copy(SSD1), copy(SSD2)), TWO, NOW)
        self.assertTrue(verdict.met)
        self.assertEqual((survival(verdict.counting).devices, survival(verdict.counting).locations), (1, 0))

    def test_two_folders_of_one_drive_are_one_device(self):
        folders = roll(copy(store("X", device="SSD-1")), copy(store("Y", device="SSD-1")))
        self.assertEqual(self._unmet(folders, TWO), [("devices", 1, 2)])

    def test_two_partitions_of_an_array_and_a_drive(self):
        three = roll(copy(store("P", device="array")), copy(store("Q", device="array")), copy(SSD1))
        self.assertEqual(self._unmet(three, Rule(copies=3, devices=2)), [])

    def test_full_rule_lacks_only_a_copy(self):
        rule = Rule(copies=3, devices=2, offsite=1, media=2)
        self.assertEqual(self._unmet(roll(copy(SSD1), copy(ARRAY)), rule), [("copies", 2, 3)])

    def test_attested_copy_does_not_count_where_read_back_is_asked_and_a_check_is_the_cheapest_way(self):
        facts = roll(copy(SSD1), copy(BUCKET, Evidence.ATTESTED))
        self.assertEqual(self._unmet(facts, TWO), [("copies", 1, 2), ("devices", 1, 2)])
        remedy = what_would_it_take(facts, [SSD1, SSD2, BUCKET], TWO, NOW)
        self.assertEqual([(step.act, step.store) for step in remedy.steps], [("check", "bucket")])

    def test_attested_copy_counts_where_that_is_enough(self):
        facts = roll(copy(SSD1), copy(BUCKET, Evidence.ATTESTED))
        self.assertEqual(self._unmet(facts, replace(TWO, level=Evidence.ATTESTED)), [])

    def test_one_broken_file_takes_the_whole_copy_out_and_is_cheapest_to_mend(self):
        facts = roll(copy(SSD1), copy(SSD2, missing_files=1, missing_bytes=5))
        self.assertIn(("copies", 1, 2), self._unmet(facts, TWO))
        remedy = what_would_it_take(facts, [SSD1, SSD2, ARRAY], TWO, NOW)
        self.assertEqual([(s.act, s.store, s.files, s.bytes) for s in remedy.steps], [("mend", "SSD-2", 1, 5)])

    def test_a_new_file_on_the_card_blocks_by_name(self):
        stray = FileFact("DCIM/100AAAAA/AAAA0002.JPG", 1, 1)
        verdict = self._card((CLIP, stray), roll(copy(SSD1), copy(SSD2)))
        self.assertEqual([(b.kind, b.sentence, b.paths) for b in verdict.blocks], [
            ("uncovered", "1 file on this card is in no copy", (stray.path,))
        ])  # fmt: skip

    def test_a_hold_blocks_whatever_the_copies_say(self):
        held = roll(copy(SSD1), copy(SSD2), holds=(HoldFact("until delivered", "Sol"),))
        verdict = self._card((CLIP,), held)
        self.assertEqual([(b.kind, "until delivered" in b.sentence) for b in verdict.blocks], [("hold", True)])

    def test_cleared_then_a_drive_is_lost_falls_below(self):
        after = roll(copy(SSD1), copy(replace(SSD2, lost=True)))
        self.assertEqual(self._unmet(after, TWO), [("copies", 1, 2), ("devices", 1, 2)])

    def _unmet(self, facts: RollFacts, rule: Rule) -> list[tuple[str, int, int]]:
        return [(block.kind, block.have, block.need) for block in judge_roll(facts, rule, NOW).blocks]

    def _card(self, entries, facts, rule=TWO, **more):
        return judge_card(CardFacts("A-01", entries, more.pop("listed_at", NOW), (facts,), **more), rule, NOW)


class WhatCounts(TestCase):
    def test_everything_that_keeps_a_copy_from_counting(self):
        cases = {
            "no check yet": copy(SSD2, verified_at=None),
            "only written": copy(SSD2, Evidence.WRITTEN),
            "a file missing": copy(SSD2, missing_files=1),
            "store lost": copy(replace(SSD2, lost=True)),
            "landing area": copy(replace(SSD2, counts=False)),
            "check too old": copy(SSD2, verified_at=NOW - timedelta(days=31)),
        }
        rule = replace(TWO, fresh=timedelta(days=30))
        for words, second in cases.items():
            with self.subTest(words):
                verdict = judge_roll(roll(copy(SSD1), second), rule, NOW)
                self.assertEqual([c.store.name for c in verdict.counting], ["SSD-1"])

    def test_a_changed_file_is_not_covered_by_its_old_version(self):
        for changed in (CLIP._replace(size=6), CLIP._replace(modified_ns=8)):
            card = CardFacts("A-01", (changed,), NOW, (roll(copy(SSD1), copy(SSD2)),))
            self.assertFalse(judge_card(card, TWO, NOW).clearable)

    def test_a_waiver_covers_exactly_the_file_it_names(self):
        stray = FileFact("notes.txt", 3, 3)
        waiver = WaiverFact(stray, "not ours", "Sol")
        facts = roll(copy(SSD1), copy(SSD2))
        good = judge_card(CardFacts("A", (CLIP, stray), NOW, (facts,), (waiver,)), TWO, NOW)
        self.assertTrue(good.clearable)
        self.assertEqual(good.waived, (stray,))
        grown = CardFacts("A", (CLIP, stray._replace(size=4)), NOW, (facts,), (waiver,))
        self.assertFalse(judge_card(grown, TWO, NOW).clearable)

    def test_a_waiver_does_not_lower_the_rule_for_the_roll(self):
        waiver = WaiverFact(CLIP, "seen it", "Sol")
        card = CardFacts("A", (CLIP,), NOW, (roll(copy(SSD1)),), (waiver,))
        self.assertFalse(judge_card(card, TWO, NOW).clearable)

    def test_an_old_or_absent_listing_blocks(self):
        facts = roll(copy(SSD1), copy(SSD2))
        rule = replace(TWO, listing_within=timedelta(minutes=60))
        for listed, kinds in ((NOW - timedelta(minutes=61), ["listing"]), (NOW - timedelta(minutes=60), [])):
            verdict = judge_card(CardFacts("A", (CLIP,), listed, (facts,)), rule, NOW)
            self.assertEqual([b.kind for b in verdict.blocks], kinds)
        self.assertFalse(judge_card(CardFacts("A", (), None, (facts,)), TWO, NOW).clearable)

    def test_a_card_of_which_nothing_was_offloaded_is_never_clearable(self):
        for entries in ((), (CLIP,)):
            self.assertFalse(judge_card(CardFacts("A", entries, NOW, ()), TWO, NOW).clearable)

    def test_two_signers_must_be_two_people_and_not_only_the_one_who_ran_it(self):
        two = replace(TWO, signers=2)
        for signers, ran, missing in (
            ([], ["wren"], 2),
            (["wren"], ["wren"], 1),
            (["wren", "wren"], ["wren"], 1),
            (["sol"], ["wren"], 1),
            (["wren", "sol"], ["wren"], 0),
            (["wren", "sol"], ["wren", "sol"], 1),
        ):
            with self.subTest(signers=signers):
                self.assertEqual(signatures_missing(two, signers, ran), missing)
        self.assertEqual(signatures_missing(TWO, ["wren"], ["wren"]), 0)


class Remedies(TestCase):
    def test_fewest_new_copies_then_least_bytes_then_most_room(self):
        roomy, tight = store("roomy"), replace(store("tight"), free=3 * GB)
        remedy = what_would_it_take(roll(copy(SSD1)), [SSD1, tight, roomy], TWO, NOW)
        self.assertEqual([(s.act, s.store) for s in remedy.steps], [("copy", "roomy")])

    def test_a_store_without_room_offline_lost_or_on_the_same_device_is_no_way(self):
        bad = [
            replace(store("full"), free=1),
            store("unplugged", online=False),
            store("gone", lost=True),
            store("twin", device="SSD-1"),
            store("landing", counts=False),
        ]
        self.assertIsNone(what_would_it_take(roll(copy(SSD1)), [SSD1, *bad], TWO, NOW))

    def test_off_site_is_sought_where_the_rule_asks_for_it(self):
        rule = replace(TWO, offsite=1)
        remedy = what_would_it_take(roll(copy(SSD1), copy(SSD2)), [SSD1, SSD2, store("SSD-3"), ARRAY], rule, NOW)
        self.assertEqual([(s.act, s.store) for s in remedy.steps], [("copy", "array")])

    @given(st.lists(st.tuples(st.sampled_from("ABC"), st.sampled_from(["cart", "office"]), st.booleans()), max_size=5))
    def test_what_a_remedy_names_really_satisfies_the_rule(self, places):
        stores = [store(f"s{n}", dev, loc, offsite=off) for n, (dev, loc, off) in enumerate(places)]
        rule = Rule(copies=2, devices=2, locations=1, offsite=1)
        remedy = what_would_it_take(roll(), stores, rule, NOW)
        chosen = [copy(s) for s in stores if remedy and s.name in {step.store for step in remedy.steps}]
        if remedy:
            self.assertTrue(judge_roll(roll(*chosen), rule, NOW).met)
        else:
            self.assertFalse(judge_roll(roll(*map(copy, stores)), rule, NOW).met)

    def test_what_if_a_device_dies(self):
        rolls = [
            roll(copy(SSD1), copy(SSD2)),
            replace(roll(copy(SSD2)), tag="B001"),
            replace(roll(copy(ARRAY)), tag="C"),
        ]
        report = what_if_lost(rolls, lambda place: place.device == "SSD-2", TWO, NOW)
        self.assertEqual((report.gone, report.below, report.bytes_to_copy), (("B001",), ("A012",), 2 * GB))
