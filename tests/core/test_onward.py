"""What is brought onward: from proven copies alone, and no more than there is room for what is missing."""

from dataclasses import replace
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.onward import Onward, Wanted, onward
from ruggedraft.core.redundancy import CopyFacts

from .test_redundancy import ARRAY, GB, SSD1, SSD2, copy, roll


def wanted(tag: str, *copies: CopyFacts, sources=("SSD-1",), **more) -> Wanted:
    return Wanted(tag, replace(roll(*copies, **more), tag=tag), sources)


class WhatGoes(TestCase):
    def reasons(self, found: Onward) -> dict[str, str]:
        return dict(found.staying)

    def test_only_what_is_missing_there_is_counted(self):
        """Common practice: a job that sums the whole source against free space refuses work that would fit."""
        half = copy(ARRAY, files=1, missing_files=1, missing_bytes=GB)
        tight = replace(ARRAY, free=GB)
        found = onward([wanted("A001", copy(SSD1), half)], tight)
        self.assertEqual(
            [(one.tag, one.bytes, one.files, one.source) for one in found.going], [("A001", GB, 1, "SSD-1")]
        )

    def test_who_stays_and_why(self):
        found = onward(
            [
                wanted("A001", copy(SSD1), copy(ARRAY)),
                wanted("A002", copy(SSD1), sources=()),
                wanted("A003", copy(SSD1), unread=1),
                replace(wanted("A004", copy(SSD1)), open_run="it is being brought already"),
                wanted("A005", copy(SSD1), bytes=200 * GB),
            ],
            ARRAY,
        )
        self.assertEqual(found.going, ())
        self.assertEqual(self.reasons(found), {
            "A001": "all of it is there",
            "A002": "no copy of it that is whole and read back is connected",
            "A003": "not all of it was read off its card",
            "A004": "it is being brought already",
            "A005": "no room is left for it: 200 GB are needed, 100 GB would be free",
        })  # fmt: skip
        for store in (replace(ARRAY, online=False), replace(ARRAY, lost=True)):
            away = onward([wanted("A001", copy(SSD1))], store)
            self.assertEqual(self.reasons(away), {"A001": "'array' is not connected"})

    def test_the_least_protected_go_first_where_room_does_not_do_for_all(self):
        rolls = [
            wanted("A001", copy(SSD1), copy(SSD2)), wanted("A002", copy(SSD1)),
            wanted("A003", copy(SSD1), copy(SSD2, Evidence.ATTESTED)),
        ]  # fmt: skip
        found = onward(rolls, replace(ARRAY, free=4 * GB))
        self.assertEqual([one.tag for one in found.going], ["A002", "A003"])
        self.assertIn("no room is left", self.reasons(found)["A001"])

    @given(st.lists(st.integers(0, 9), max_size=8), st.integers(0, 30))
    def test_never_more_than_fits_and_every_roll_is_spoken_of_once(self, sizes, free):
        rolls = [wanted(f"A{n:03}", copy(SSD1), bytes=size) for n, size in enumerate(sizes)]
        found = onward(rolls, replace(ARRAY, free=free))
        self.assertLessEqual(found.bytes, free)
        told = [one.tag for one in found.going] + [one.tag for one in found.staying]
        self.assertEqual(sorted(told), [one.tag for one in rolls])
