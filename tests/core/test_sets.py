"""A job divided into media: nothing divided that belongs together, few media, nothing moves.

The fewest that are possible are found by trying everything, where that is little enough.
"""

import random
from functools import cache
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.sets import MEDIA, Unit, custom_medium, divide, medium_named

ROOM = 100


def units(sizes: list[int]) -> list[Unit]:
    return [Unit(f"{n:03}", size) for n, size in enumerate(sizes)]


def fewest(sizes: list[int]) -> int:
    """By every way there is: the fewest media for each set of units, and the least that is filled of the last one."""

    @cache
    def best(mask: int) -> tuple[int, int]:
        if not mask:
            return 0, ROOM
        found = (len(sizes) + 1, 0)
        for n, size in enumerate(sizes):
            if mask >> n & 1:
                media, filled = best(mask & ~(1 << n))
                found = min(found, (media, filled + size) if filled + size <= ROOM else (media + 1, size))
        return found

    return best((1 << len(sizes)) - 1)[0]


def fewest_at_least(given_: list[Unit], room: int) -> int:
    """None needs fewer: by all bytes; and as two of more than half do not share one (Martello and Toth, 1990)."""
    sizes = [unit.takes for unit in given_]
    best = -(-sum(sizes) // room)
    return max(best, *(by_halves(sizes, small, room) for small in {min(size, room // 2) for size in sizes} | {0}))


def by_halves(sizes: list[int], small: int, room: int) -> int:
    """What is more than a half never shares a medium; what is smaller than `small` is left out of account."""
    large = [size for size in sizes if size > room - small]
    middle = [size for size in sizes if room // 2 < size <= room - small]
    little = sum(size for size in sizes if small <= size <= room // 2)
    spare = len(middle) * room - sum(middle)
    return len(large) + len(middle) + max(0, -(-(little - spare) // room))


class Divided(TestCase):
    def checked(self, given_: list[Unit], media: list[list[str]]) -> None:
        size = dict(given_)
        self.assertEqual(sorted(key for keys in media for key in keys), sorted(size))
        for keys in media:
            self.assertLessEqual(sum(size[key] for key in keys), ROOM)

    @settings(max_examples=120, deadline=None)
    @given(st.lists(st.integers(0, ROOM), max_size=11))
    def test_few_units_never_need_more_than_one_medium_too_many(self, sizes):
        made = divide(units(sizes), ROOM)
        self.checked(units(sizes), made)
        self.assertLessEqual(len(made), fewest(sizes) + 1)
        self.assertLessEqual(fewest_at_least(units(sizes), ROOM), fewest(sizes))

    def test_sizes_that_are_hard_to_pack(self):
        """Thirds and halves and a little; triplets that fill a medium to the last byte."""
        chance = random.Random(11)
        for case in range(60):
            sizes = []
            for _ in range(4):
                one = chance.randint(26, 49)
                two = chance.randint(max(25, 51 - one), 49)
                sizes += [one, two, ROOM - one - two]
            sizes = [size for size in sizes if size > 0]
            with self.subTest(case):
                self.assertLessEqual(len(divide(units(sizes), ROOM)), fewest(sizes) + 1)
        self.assertEqual(len(divide(units([51, 27, 23] * 4 + [26] * 4), 101)), 6)

    def test_many_units_are_near_what_no_division_is_below(self):
        chance = random.Random(5)
        for count in (50, 400):
            sizes = [chance.randint(1, 60) for _ in range(count)]
            made = divide(units(sizes), ROOM)
            self.checked(units(sizes), made)
            self.assertLessEqual(len(made), fewest_at_least(units(sizes), ROOM) + 1)

    @settings(max_examples=100, deadline=None)
    @given(st.lists(st.integers(1, ROOM), min_size=1, max_size=20), st.lists(st.integers(1, ROOM), max_size=20),
           st.lists(st.integers(0, 19), max_size=4))  # fmt: skip
    def test_what_has_its_place_never_moves_and_what_is_written_gets_nothing_more(self, first, later, closed):
        before = divide(units(first), ROOM)
        closed = {n for n in closed if n < len(before)}
        more = units([*first, *later])
        after = divide(more, ROOM, before, closed)
        self.checked(more, after)
        for n, keys in enumerate(before):
            self.assertLessEqual(set(keys), set(after[n]))
            if n in closed:
                self.assertEqual(keys, after[n])
        self.assertEqual(divide(more, ROOM, after, range(len(after))), after, "and dividing again changes nothing")

    def test_what_is_gone_leaves_its_place_empty(self):
        self.assertEqual(divide([Unit("b", 60)], ROOM, [["a"], ["b"]], [0, 1]), [[], ["b"]])

    def test_the_same_job_is_divided_in_the_same_way(self):
        chance = random.Random(3)
        given_ = units([chance.randint(1, 70) for _ in range(60)])
        mixed = given_[:]
        chance.shuffle(mixed)
        self.assertEqual(divide(given_, ROOM), divide(mixed, ROOM))

    def test_what_no_medium_holds(self):
        with self.assertRaises(ValueError):
            divide([Unit("a", ROOM + 1)], ROOM)
        self.assertEqual(divide([], ROOM), [])


class Media(TestCase):
    def test_what_is_written_fits_what_is_sold(self):
        """Sectors of 2,048 bytes, from memory: 360,000 of a CD, 2,298,496 of a DVD, 12,219,392 of a Blu-ray."""
        sectors = {"CD, 700 MB": 360_000, "DVD, 4.7 GB": 2_298_496, "Blu-ray, 25 GB": 12_219_392}
        for name, count in sectors.items():
            self.assertLess(medium_named(name).capacity, count * 2048)
        self.assertEqual([one.capacity for one in MEDIA[:3]], [700 * 10**6, 4_700 * 10**6, 25 * 10**9])

    def test_small_files_take_whole_blocks(self):
        tape, disc = medium_named("Tape, 6 TB"), medium_named("DVD, 4.7 GB")
        self.assertEqual((tape.takes(1) - tape.per_file, disc.takes(1) - disc.per_file), (524_288, 2048))
        self.assertEqual((disc.takes(0), disc.takes(2048) - disc.per_file), (disc.per_file, 2048))
        self.assertLess(tape.room, tape.capacity)

    def test_a_size_that_somebody_names(self):
        made = custom_medium(50 * 10**9)
        self.assertEqual((made.name, made.capacity), ("Disc, 50 GB", 50 * 10**9))
        self.assertIn("Tape", custom_medium(50 * 10**9, tape=True).name)
        for size in (0, -1, 10**7, 10**16):
            with self.assertRaises(ActRefused):
                custom_medium(size)
        with self.assertRaisesRegex(ActRefused, "There is no medium 'x'"):
            medium_named("x")
