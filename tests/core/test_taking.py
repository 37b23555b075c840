"""Choosing what to take of a card."""

from datetime import timedelta

from ruggedraft.core.cards import Held, Holding
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.taking import EVERYTHING, Take, take
from ruggedraft.standins import card_maker as make

from .made_card import START, MadeCard

HELD = Held(Holding.HELD, "S001")


class Taking(MadeCard):
    def setUp(self):
        super().setUp()
        make.add_stills(self.card, prefix="SKR_", first=1, count=3, start=START)
        make.add_stills(self.card, prefix="SKR_", first=4, count=1, start=START + timedelta(hours=2), tree="101SKERR")
        make.add_clips(self.card, reel="A001", first=1, count=1, start=START, fine=False)
        make.add_file(self.card, "odds.bin", b"x", START)
        self.card_described = self.described()

    def names(self, entries) -> list[str]:
        return sorted({entry.path.rpartition("/")[2].partition(".")[0] for entry in entries})

    def taken(self, held=None, **wanted):
        return take(self.card_described, held or {}, Take(**wanted))

    def test_everything_is_the_default(self):
        everything = self.taken()
        self.assertEqual((len(everything.files), everything.left), (10, ()))
        self.assertTrue(Take().everything and Take.from_data({}) == EVERYTHING)

    def test_each_way_of_choosing(self):
        at = START.timestamp()
        cases = (
            ({"from_s": at + 3600}, ["SKR_0004", "odds"]),
            ({"until_s": at + 59}, ["A001_C001", "SKR_0001", "odds"]),
            ({"folders": ("DCIM/101SKERR",)}, ["SKR_0004"]),
            ({"folders": ("DCIM/101",)}, []),
            ({"kinds": ("video",)}, ["A001_C001"]),
            ({"kinds": ("video", "other")}, ["A001_C001", "odds"]),
            ({"picked": ("DCIM/100SKERR/SKR_0002.DNG",)}, ["SKR_0002", "odds"]),
            ({"kinds": ("picture",), "from_s": at + 59, "until_s": at + 3600}, ["SKR_0002", "SKR_0003"]),
        )
        for wanted, names in cases:
            with self.subTest(wanted):
                found = self.taken(**wanted)
                self.assertEqual(self.names(found.files), names)
                self.assertEqual(len(found.files) + len(found.left), 10, "each file goes or stays")

    def test_a_clip_goes_whole(self):
        found = self.taken(picked=("DCIM/100SKERR/SKR_0002.DNG",))
        self.assertEqual([e.path for e in found.files if "0002" in e.path],
                         ["DCIM/100SKERR/SKR_0002.DNG", "DCIM/100SKERR/SKR_0002.JPG"])  # fmt: skip

    def test_only_what_is_new_and_what_is_held_was_not_left_behind(self):
        held = {"DCIM/100SKERR/SKR_0001.DNG": HELD, "DCIM/100SKERR/SKR_0001.JPG": HELD}
        held["DCIM/100SKERR/SKR_0002.JPG"] = Held(Holding.CHANGED, "S001")
        found = self.taken(held, only_new=True)
        self.assertNotIn("SKR_0001", self.names(found.files))
        self.assertIn("SKR_0002", self.names(found.files), "a changed file is never treated as held")
        self.assertEqual(found.left, ())

    def test_nonsense_is_refused(self):
        with self.assertRaises(ActRefused):
            Take.from_data({"kinds": ["films"]})

    def test_a_choice_survives_its_data(self):
        wanted = Take(True, 1.5, None, ("DCIM/100SKERR",), ("picture",), ("a", "b"))
        self.assertEqual(Take.from_data(wanted.as_data()), wanted)
