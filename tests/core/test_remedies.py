"""The rules at the heart: what it would take, and what would be lost."""

from dataclasses import replace
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.redundancy import (
    Loss,
    Rule,
    StoreFacts,
    bytes_short,
    judge_roll,
    loss_to,
    lost_with,
    what_would_it_take,
)
from ruggedraft.core.redundancy.remedies import whole_copy

from .test_redundancy import ARRAY, GB, NOW, SSD1, SSD2, TWO, copy, roll, store


class BytesShort(TestCase):
    """Bytes that still need copying to satisfy the rule."""

    def test_the_table(self):
        part = copy(SSD2, missing_files=1, missing_bytes=GB)
        stale = copy(SSD2, Evidence.WRITTEN)
        for words, copies, rule, short in (
            ("nothing yet", (), TWO, 4 * GB),
            ("one whole copy", (copy(SSD1),), TWO, 2 * GB),
            ("two whole copies", (copy(SSD1), copy(SSD2)), TWO, 0),
            ("one that lacks a part", (copy(SSD1), part), TWO, GB),
            ("one that has only to be read", (copy(SSD1), stale), TWO, 0),
            ("one on a lost store", (copy(SSD1), copy(replace(SSD2, lost=True))), TWO, 2 * GB),
            ("two on one device", (copy(SSD1), copy(store("twin", device="SSD-1"))), TWO, 2 * GB),
            ("off-site wanted", (copy(SSD1), copy(SSD2)), replace(TWO, offsite=1), 2 * GB),
        ):
            with self.subTest(words):
                self.assertEqual(bytes_short(roll(*copies), rule, NOW), short)


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

    def test_a_copy_is_mended_only_where_that_can_be_done(self):
        for words, place, able in (
            ("there, with just enough room", replace(SSD2, free=5), True),
            ("one byte too little", replace(SSD2, free=4), False),
            ("not connected", replace(SSD2, online=False), False),
            ("lost", replace(SSD2, lost=True), False),
            ("a landing area", replace(SSD2, counts=False), False),
        ):
            with self.subTest(words):
                facts = roll(copy(SSD1), copy(place, missing_files=1, missing_bytes=5))
                remedy = what_would_it_take(facts, [SSD1, place], TWO, NOW)
                self.assertEqual(
                    [step.act.value for step in remedy.steps] if remedy else None, ["mend"] if able else None
                )

    def test_of_many_stores_those_with_the_most_room_are_tried(self):
        many = [replace(store(f"s{n}"), free=(n + 3) * GB) for n in range(20)]
        remedy = what_would_it_take(roll(copy(SSD1)), [SSD1, *many], TWO, NOW)
        self.assertEqual([step.store for step in remedy.steps], ["s19"])

    def test_what_each_step_says(self):
        """Acts, bytes and files of the plan as a person reads it."""
        rule = replace(TWO, copies=3, devices=3)
        part = copy(SSD2, files=3, missing_files=2, missing_bytes=7)
        remedy = what_would_it_take(roll(copy(SSD1, Evidence.WRITTEN), part, files=5), [SSD1, SSD2, ARRAY], rule, NOW)
        self.assertEqual([(s.act, s.store, s.bytes, s.files) for s in remedy.steps], [
            ("check", "SSD-1", 0, 0), ("mend", "SSD-2", 7, 2), ("copy", "array", 2 * GB, 0),
        ])  # fmt: skip

    def test_nothing_to_do_and_nothing_that_can_be_done_are_told_apart(self):
        good = roll(copy(SSD1), copy(SSD2))
        self.assertEqual(what_would_it_take(good, [SSD1, SSD2], TWO, NOW).steps, ())
        for hopeless in (replace(good, unread=1), replace(good, files=0)):
            self.assertIsNone(what_would_it_take(hopeless, [SSD1, SSD2], TWO, NOW))

    def test_of_equals_the_fewest_steps_and_the_most_room_left(self):
        old = [copy(store(f"old{n}"), Evidence.WRITTEN) for n in range(3)]
        remedy = what_would_it_take(roll(*old), [one.store for one in old], TWO, NOW)
        self.assertEqual(len(remedy.steps), 2)
        tight, roomy = replace(store("a"), free=2 * GB), replace(store("b"), free=2 * GB + 1)
        for places in ([tight, roomy], [roomy, tight]):
            remedy = what_would_it_take(roll(copy(SSD1)), places, TWO, NOW)
            self.assertEqual([step.store for step in remedy.steps], ["b"])

    def test_of_several_new_copies_the_tightest_place_decides_and_what_was_named_first_among_equals(self):
        """A place that stands on two devices goes with few others: the roomiest of all is not the best."""
        both = replace(store("both"), devices=frozenset("12"), free=10 * GB)
        one, two = (
            replace(store(name), devices=frozenset(name), free=free * GB) for name, free in (("1", 9), ("2", 8))
        )
        tight = replace(store("tight"), free=2 * GB)
        remedy = what_would_it_take(roll(), [tight, two, one, both], TWO, NOW)
        self.assertEqual([step.store for step in remedy.steps], ["1", "2"])
        remedy = what_would_it_take(roll(copy(SSD1)), [store("x"), store("y")], TWO, NOW)
        self.assertEqual([step.store for step in remedy.steps], ["x"])

    def test_a_new_copy_fits_to_the_byte(self):
        for free, fits in ((2 * GB, True), (2 * GB - 1, False)):
            remedy = what_would_it_take(roll(copy(SSD1)), [replace(SSD2, free=free)], TWO, NOW)
            self.assertEqual(remedy is not None, fits)

    def test_a_weaker_level_is_proven_by_a_copy_made_for_it_and_no_stronger_one(self):
        rule = replace(TWO, level=Evidence.ATTESTED)
        made = whole_copy(roll(), SSD1, rule, NOW)
        self.assertEqual((made.proven, made.files, made.bytes), ((NOW, NOW, NOW, None), 1, 2 * GB))
        self.assertEqual(made.looked_at, NOW)

    def test_where_only_the_servers_word_is_taken_a_check_has_to_follow(self):
        """An attested copy does not satisfy a rule that asks for reading back, whatever room there is."""
        bucket = store("bucket", location="far", medium="cloud", free=1 << 60, proves=Evidence.ATTESTED)
        one = roll(copy(SSD1))
        (step,) = what_would_it_take(one, [bucket], TWO, NOW).steps
        self.assertEqual(
            (step.then_check, step.sentence), (True, "copy it to 'bucket', which has room, and check it there")
        )
        (step,) = what_would_it_take(one, [bucket, SSD2], TWO, NOW).steps
        self.assertEqual((step.store, step.then_check), ("SSD-2", False))
        enough = replace(TWO, level=Evidence.ATTESTED)
        (step,) = what_would_it_take(one, [bucket, SSD2], enough, NOW).steps
        self.assertEqual((step.store, step.then_check), ("bucket", False))
        half = copy(bucket, missing_files=1, missing_bytes=5, level=Evidence.ATTESTED)
        (step,) = what_would_it_take(roll(copy(SSD1), half), [], TWO, NOW).steps
        self.assertEqual(step.sentence, "mend 1 file on 'bucket', and check it there")

    def test_looked_at_is_no_matter_of_copies(self):
        rule = replace(TWO, looked_at=1.0)
        self.assertEqual(len(what_would_it_take(roll(copy(SSD1)), [SSD1, SSD2], rule, NOW).steps), 1)

    def test_off_site_is_sought_where_the_rule_asks_for_it(self):
        rule = replace(TWO, offsite=1)
        remedy = what_would_it_take(roll(copy(SSD1), copy(SSD2)), [SSD1, SSD2, store("SSD-3"), ARRAY], rule, NOW)
        self.assertEqual([(s.act, s.store) for s in remedy.steps], [("copy", "array")])

    @given(st.lists(st.tuples(st.sampled_from("ABC"), st.sampled_from(["cart", "office"]), st.booleans()), max_size=5))
    def test_what_a_remedy_names_really_satisfies_the_rule(self, places):
        stores = [store(f"s{n}", dev, loc, offsite=off) for n, (dev, loc, off) in enumerate(places)]
        rule = Rule(copies=2, devices=2, locations=1, offsite=1)
        remedy = what_would_it_take(roll(), stores, rule, NOW)
        self.assertEqual(remedy is None, not judge_roll(roll(*map(copy, stores)), rule, NOW).met)
        chosen = [copy(s) for s in stores if remedy and s.name in {step.store for step in remedy.steps}]
        if remedy:
            self.assertTrue(judge_roll(roll(*chosen), rule, NOW).met)
        else:
            self.assertFalse(judge_roll(roll(*map(copy, stores)), rule, NOW).met)

    def test_what_passes_for_one_device_dies_at_once(self):
        """Two partitions of one disk; and an array that one of its disks takes down, by way of a third store."""
        on = {"a": {"disk 1"}, "b": {"disk 1", "disk 2"}, "c": {"disk 2"}, "d": {"disk 3"}}
        stores = [StoreFacts(name, frozenset(devices), "cart", "ssd") for name, devices in on.items()]
        self.assertEqual(lost_with({"a"}, stores), {"a", "b", "c"})
        self.assertEqual((lost_with({"d"}, stores), lost_with(set(), stores)), ({"d"}, set()))

    def test_what_if_a_device_dies(self):
        rolls = [
            roll(copy(SSD1), copy(SSD2)),
            replace(roll(copy(SSD2)), tag="B001"),
            replace(roll(copy(ARRAY)), tag="C"),
        ]
        hurt = [loss_to(one, lambda place: "SSD-2" in place.devices, TWO, NOW) for one in rolls]
        self.assertEqual(hurt, [Loss.BELOW, Loss.GONE, None])
