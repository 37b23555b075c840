"""Marks, and which clips to open."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as some

from ruggedraft.core.choosing import TROUBLE, ClipToOpen, MarkKind, Why, excludes, is_contested, spot_check

CLIPS = some.lists(
    some.builds(
        ClipToOpen, some.text("abc", min_size=1), some.integers(0, 9), some.none() | some.floats(0, 9),
        some.booleans(), some.booleans(), some.booleans(),
    ),
    unique_by=lambda one: one.path,
)  # fmt: skip


class Spots(TestCase):
    @given(CLIPS)
    def test_whatever_a_roll_holds(self, clips):
        found = spot_check(clips)
        self.assertLessEqual(set(found), {one.path for one in clips})
        known = {one.path for one in clips if one.trouble or one.unshown or one.breaks}
        self.assertLessEqual(known, set(found), "of which something is known")
        if clips:
            self.assertIn(Why.FIRST, found[clips[0].path])
            self.assertIn(clips[-1].path, found)
            longest = [path for path, why in found.items() if Why.LONGEST in why]
            self.assertEqual(len(longest), 1 if len(clips) > 1 else 0)
            self.assertLessEqual(len(set(found) - known), 3, "little looking")

    def test_the_longest_is_of_seconds_before_bytes(self):
        clips = [ClipToOpen("a", 9, 1.0), ClipToOpen("b", 1, 5.0), ClipToOpen("c", 99, None), ClipToOpen("d", 1, 1.0)]
        self.assertEqual(spot_check(clips)["b"], [Why.LONGEST])
        self.assertEqual(spot_check([ClipToOpen("a", 1), ClipToOpen("b", 7), ClipToOpen("c", 2)])["b"], [Why.LONGEST])


class Marks(TestCase):
    def test_keeping_and_dropping_exclude_each_other_for_one_and_contest_between_two(self):
        for kind in MarkKind:
            other = excludes(kind)
            if other is not None:
                self.assertEqual(excludes(other), kind)
                self.assertTrue(is_contested([kind, other]))
        self.assertFalse(is_contested([MarkKind.KEEP, MarkKind.SEEN, *TROUBLE]))
