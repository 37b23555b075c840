"""What a copy holds, from everything that was ever read of it; order is by what was noted before a reading began."""

import random
from datetime import UTC, datetime, timedelta
from unittest import TestCase

from ruggedraft.core.evidence import Evidence, Result
from ruggedraft.core.redundancy import (
    NamedFile,
    Reading,
    StoreFacts,
    TakeTotal,
    copy_facts,
    holds,
    in_no_copy,
    read_back_since,
)

STORE = StoreFacts("one", frozenset({"one"}), "cart", "ssd")
DAY = datetime(2026, 5, 14, tzinfo=UTC)
GOOD, BAD, GONE, NOTHING = Result.AGREES, Result.DIFFERS, Result.ABSENT, Result.UNSPOKEN
OFF = Result.TAKEN_OFF


def reading(seq: int, after: int, level: Evidence = Evidence.READ_BACK, *, until: int = 1, all_but: bool = True, **of):
    """of: results by the file's number as `f7=BAD`. It began on day `after`, whatever the order."""
    results = {int(name[1:]): result for name, result in of.items()}
    return Reading(seq, after, DAY + timedelta(days=after), level, all_but, until, results)


def only(seq: int, after: int, level: Evidence = Evidence.READ_BACK, **of) -> Reading:
    return reading(seq, after, level, all_but=False, until=0, **of)


def judged(*readings: Reading, files: int = 3, takes: int = 1, **more):
    """A roll of takes with `files` each, of 10 bytes, numbered upwards; named files are told apart."""
    named = {key for one in readings for key in one.results}
    of_take = {key: 1 + (key - 1) // files for key in range(1, takes * files + 1)}
    totals = [
        TakeTotal(take, n := sum(t == take and k not in named for k, t in of_take.items()), 10 * n)
        for take in range(1, takes + 1)
    ]
    return copy_facts(STORE, totals, [NamedFile(k, of_take[k], 10) for k in sorted(named)], readings, **more)


class Holds(TestCase):
    def check(self, facts, files: int, missing: int, broken: int = 0) -> None:
        self.assertEqual((facts.files, facts.missing_files, facts.broken_files), (files, missing, broken))
        self.assertEqual((facts.bytes, facts.missing_bytes), (10 * files, 10 * missing))
        self.assertEqual(facts.whole, files > 0 and missing == 0)

    def test_the_story_of_a_copy(self):
        for words, readings, expected in (
            ("nothing was read", (), (0, 3)),
            ("all were read", (reading(1, 0),), (3, 0)),
            ("pulled after one file", (only(1, 0, f1=GOOD),), (1, 2)),
            ("pulled, then done", (only(1, 0, f1=GOOD), reading(2, 1)), (3, 0)),
            ("done, then a run that was cancelled", (reading(1, 0), only(2, 1, f1=GOOD)), (3, 0)),
            ("one damaged", (reading(1, 0), reading(2, 1, f2=BAD)), (2, 1, 1)),
            ("one gone", (reading(1, 0), only(2, 1, f2=GONE)), (2, 1, 1)),
            ("one that was never there is not broken", (reading(1, 0, f2=GONE),), (2, 1, 0)),
            ("damaged, then mended", (reading(1, 0), reading(2, 1, f2=BAD), only(3, 2, f2=GOOD)), (3, 0)),
            ("a reading that began before the fault was noted cannot mend it",
             (reading(1, 0), only(2, 1, f2=BAD), reading(3, 1)), (2, 1, 1)),
            ("of two that overlap the worse one stands", (only(1, 0, f2=BAD), reading(2, 0)), (2, 1, 1)),
            ("… whichever was noted first", (reading(1, 0), only(2, 0, f2=BAD)), (2, 1, 1)),
            ("… until a third", (reading(1, 0), only(2, 0, f2=BAD), reading(3, 2)), (3, 0)),
            ("taken off on purpose is missing, not broken", (reading(1, 0), only(2, 1, f2=OFF)), (2, 1, 0)),
            ("… and a reading that began before is no claim",
             (reading(1, 0), only(2, 1, f2=OFF), reading(3, 1)), (2, 1)),
            ("… nor a fault", (reading(1, 0), only(2, 1, f2=OFF), only(3, 1, f2=GONE)), (2, 1, 0)),
            ("… nor is it one that it is not there",
             (reading(1, 0), only(2, 1, f2=OFF), only(3, 2, f2=GONE)), (2, 1, 0)),
            ("damage before it is forgotten", (only(1, 0, f2=GOOD), only(2, 1, f2=BAD), only(3, 2, f2=OFF)), (0, 3, 0)),
            ("brought back", (reading(1, 0), only(2, 1, f2=OFF), only(3, 2, f2=GOOD)), (3, 0)),
            ("brought back and gone",
             (reading(1, 0), only(2, 1, f2=OFF), only(3, 2, f2=GOOD), only(4, 3, f2=GONE)), (2, 1, 1)),
        ):  # fmt: skip
            with self.subTest(words):
                self.check(judged(*readings), *expected)

    def test_files_that_joined_later_are_not_held_by_an_earlier_reading(self):
        self.check(judged(reading(1, 0, until=1), takes=2), 3, 3)
        self.check(judged(reading(1, 0, until=1), only(2, 1, f4=GOOD, f5=GOOD, f6=GOOD), takes=2), 6, 0)
        self.check(judged(reading(1, 0, until=1), reading(2, 1, until=2, f1=NOTHING), takes=2), 6, 0)

    def test_what_was_read_before_a_store_was_found_again_says_nothing(self):
        self.check(judged(reading(5, 4), found_after=5), 0, 3)
        self.check(judged(reading(5, 4), reading(6, 5), found_after=5), 3, 0)

    def test_each_level_rests_on_the_oldest_of_the_newest_readings(self):
        facts = judged(reading(1, 0), reading(2, 10, Evidence.WRITTEN), only(3, 20, f1=GOOD))
        self.assertEqual(facts.proven[Evidence.READ_BACK], DAY, "a weaker reading does not renew a stronger one")
        self.assertEqual(facts.proven[Evidence.WRITTEN], DAY + timedelta(days=10))
        self.assertEqual((facts.level, facts.read_at), (Evidence.READ_BACK, DAY))

    def test_one_weak_file_makes_the_copy_weak(self):
        facts = judged(reading(1, 0), only(2, 1, f1=BAD), only(3, 2, Evidence.WRITTEN, f1=GOOD))
        self.assertEqual((facts.whole, facts.level), (True, Evidence.WRITTEN))
        self.assertIsNone(facts.proven[Evidence.READ_BACK])

    def test_random_stories_against_a_judge_that_takes_each_file_by_itself(self):
        """The quick judge sums up files that fare alike; the slow one replays everything for every file."""
        chance = random.Random(1)
        for _ in range(3000):
            files, takes = chance.randint(1, 4), chance.randint(1, 3)
            keys = range(1, files * takes + 1)
            readings = []
            for seq in range(1, chance.randint(1, 6) + 1):
                results = {k: chance.choice(list(Result)) for k in keys if chance.random() < 0.3}
                readings.append(
                    Reading(seq, chance.randint(0, seq - 1), DAY, chance.choice(list(Evidence)),
                            chance.random() < 0.6, chance.randint(1, takes), results)
                )  # fmt: skip
            floor = chance.choice([0, 0, chance.randint(0, 6)])
            named = {key for one in readings for key in one.results}
            take_of = {key: 1 + (key - 1) // files for key in keys}
            totals = [
                TakeTotal(t, n := sum(take_of[k] == t and k not in named for k in keys), 10 * n)
                for t in range(1, takes + 1)
            ]
            facts = copy_facts(
                STORE, totals, [NamedFile(k, take_of[k], 10) for k in named], readings, found_after=floor
            )
            slow = {k for k in keys if _replayed(k, take_of[k], readings, floor)}
            self.assertEqual(facts.files, len(slow))
            quick = {k for k in keys if holds(NamedFile(k, take_of[k], 10), readings, found_after=floor)}
            self.assertEqual(quick, slow)


class ReadBackSince(TestCase):
    """What lets a file be taken off another copy: it was read back after that was asked for, and nothing since."""

    def test_only_a_reading_back_that_began_after_it_was_asked_for(self):
        for words, readings, expected in (
            ("never read", (), False),
            ("read before", (reading(3, 2),), False),
            ("a reading that had begun before, and was noted after", (reading(6, 4),), False),
            ("read after", (reading(6, 5),), True),
            ("not past the caches", (reading(6, 5, Evidence.WRITTEN),), False),
            ("by its server's word", (reading(6, 5, Evidence.ATTESTED),), False),
            ("read after, then found damaged", (reading(6, 5), only(7, 6, Evidence.LISTED, f2=BAD)), False),
            ("damaged, then written and not read back",
             (reading(6, 5), only(7, 6, f2=BAD), reading(8, 7, Evidence.WRITTEN)), False),
            ("taken off there too", (reading(6, 5), only(7, 6, Evidence.LISTED, f2=OFF)), False),
        ):  # fmt: skip
            with self.subTest(words):
                self.assertEqual(read_back_since(NamedFile(2, 1, 10), readings, 5), expected)

    def test_a_store_that_was_lost_and_found_since_has_to_be_read_again(self):
        self.assertFalse(read_back_since(NamedFile(2, 1, 10), (reading(6, 5),), 5, found_after=6))


class InNoCopy(TestCase):
    def test_a_file_is_in_no_copy_where_none_is_known_to_hold_it(self):
        whole, harmed = reading(1, 0), [reading(1, 0), only(2, 1, f2=BAD)]
        for words, copies, bare in (
            ("no copies", [], 3),
            ("one whole copy", [([whole], 0)], 0),
            ("harmed in one, whole in the other", [(harmed, 0), ([whole], 0)], 0),
            ("harmed in both", [(harmed, 0), (harmed, 0)], 1),
            ("each holds what the other lacks", [(harmed, 0), ([reading(1, 0, f3=BAD)], 0)], 0),
            ("not read since they were found", [(harmed, 5), ([whole], 5)], 3),
        ):
            with self.subTest(words):
                named = [NamedFile(2, 1, 10), NamedFile(3, 1, 10)]
                self.assertEqual(in_no_copy([TakeTotal(1, 1, 10)], named, copies), bare)


def _replayed(key: int, take: int, readings: list[Reading], floor: int) -> bool:
    """Whether a file is held: go through the evidence as it was noted, and forget what a fault overrules."""
    good: list[Reading] = []
    last_bad = 0
    for one in readings:
        said = one.results.get(key, GOOD if one.all_but and take <= one.until else NOTHING)
        if said in (BAD, GONE, OFF, Result.UNREADABLE, Result.RETIMED):
            good, last_bad = [], one.seq
        elif said is GOOD and one.after >= last_bad and one.after >= floor:
            good.append(one)
    return bool(good)
