"""What is held of a card, which card it is, and whose double it is."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from ruggedraft.core.cards import (
    Companion,
    Held,
    Holding,
    Known,
    KnownCard,
    Recording,
    Seen,
    companion_of,
    hold,
    shifted_by,
    who_is,
)
from ruggedraft.core.cards.clips import by_base
from ruggedraft.core.sources import Entry, EntryKind

S = 10**9
HOUR = 3600 * S


def on_card(path: str = "DCIM/A.JPG", size: int = 10, at: int = 5 * S) -> Entry:
    return Entry(path, EntryKind.FILE, size, at)


def known(path: str = "DCIM/A.JPG", size: int = 10, at: int = 5 * S, **others) -> Known:
    """Of this camera and the card's last roll, unless said otherwise."""
    return Known(
        path, size, at, **{"roll": "A001", "own_camera": True, "same_roll": True, "fingerprint": "f", **others}
    )


class Holdings(TestCase):
    def standing(self, entry: Entry, *ledger: Known, ends: str = "f", **others) -> Holding:
        """ends: the fingerprint of the file on the card"""
        return hold([entry], ledger, fingerprints={entry.path: ends}, **others)[entry.path].holding

    def test_the_table(self):
        other_roll = {"roll": "A000", "same_roll": False}
        other_camera = {"roll": "B001", "same_roll": False, "own_camera": False}
        cases = (
            ("the roll has it", on_card(), [known()], Holding.HELD),
            ("an earlier roll has it", on_card(), [known(**other_roll)], Holding.HELD),
            ("nobody has it", on_card(), [], Holding.NEW),
            ("its roll has the name with another size", on_card(), [known(size=11)], Holding.CHANGED),
            ("its roll has the name with another time", on_card(), [known(at=6 * S)], Holding.CHANGED),
            ("an earlier roll has the name only", on_card(), [known(size=11, **other_roll)], Holding.NEW),
            (
                "its roll has another, an earlier one has this",
                on_card(),
                [known(size=11), known(**other_roll)],
                Holding.HELD,
            ),
            ("another camera has one like it", on_card(), [known(**other_camera)], Holding.ALIKE),
            ("another camera has the name only", on_card(), [known(at=9, **other_camera)], Holding.NEW),
        )
        for name, entry, ledger, expected in cases:
            with self.subTest(name):
                self.assertEqual(self.standing(entry, *ledger), expected)

    def test_the_same_name_size_and_time_are_a_hint_and_no_proof(self):
        hour, before = 3600 * S, {"roll": "A000", "same_roll": False, "same_format": False}
        for name, entry, one, ends, expected in (
            ("its ends were not looked at", on_card(), known(), "", Holding.UNSURE),
            ("those of the ledger's file are not known", on_card(), known(fingerprint=""), "f", Holding.UNSURE),
            ("it has other ends", on_card(), known(), "g", Holding.CHANGED),
            ("read in another zone", on_card(at=5 * S + 2 * hour), known(), "f", Holding.HELD),
            ("… and it is another file", on_card(at=5 * S + 2 * hour), known(), "g", Holding.CHANGED),
            ("the card was formatted since", on_card(), known(**before), "f", Holding.ALIKE),
        ):
            with self.subTest(name):
                self.assertEqual(self.standing(entry, one, ends=ends), expected)

    def test_what_reading_says_outweighs_size_and_time(self):
        same, other = ("xxh128", "aa"), ("xxh128", "bb")
        ledger = known(checksum="aa", algorithm="xxh128")
        elsewhere = known(roll="B001", own_camera=False, same_roll=False, checksum="aa", algorithm="xxh128")
        moved = on_card("DCIM/RENAMED.JPG", at=9 * S)
        for name, entry, one, read, expected in (
            ("same facts, same content", on_card(), ledger, same, Holding.HELD),
            ("same facts, other content", on_card(), ledger, other, Holding.CHANGED),
            ("other camera, same content", on_card(), elsewhere, same, Holding.HELD),
            ("other camera, other content", on_card(), elsewhere, other, Holding.NEW),
            ("other name and time, same content", moved, ledger, same, Holding.HELD),
            ("same checksum by another algorithm proves nothing", moved, ledger, ("md5", "aa"), Holding.NEW),
        ):
            with self.subTest(name):
                self.assertEqual(self.standing(entry, one, read={entry.path: read}), expected)

    def test_what_was_left_behind_stays_left_until_it_changes(self):
        left = frozenset({("DCIM/A.JPG", 10, 5 * S)})
        self.assertEqual(self.standing(on_card(), left=left), Holding.LEFT)
        self.assertEqual(self.standing(on_card(size=11), left=left), Holding.NEW)
        self.assertEqual(self.standing(on_card(), known(size=11), left=left), Holding.CHANGED)

    def test_the_roll_it_was_found_in_is_named(self):
        self.assertEqual(
            hold([on_card()], [known(roll="A007")], fingerprints={"DCIM/A.JPG": "f"}),
            {"DCIM/A.JPG": Held(Holding.HELD, "A007")},
        )

    @given(
        st.lists(st.tuples(st.sampled_from("ABC"), st.integers(0, 2), st.integers(0, 2)), max_size=6),
        st.lists(
            st.tuples(st.sampled_from("ABC"), st.integers(0, 2), st.integers(0, 2), st.booleans(), st.booleans()),
            max_size=8,
        ),
    )
    def test_held_always_means_a_file_with_these_facts_off_this_camera(self, files, ledger):
        entries = [on_card(*facts) for facts in dict.fromkeys(files)]
        rows = [known(p, s, t, own_camera=own or same, same_roll=same) for p, s, t, own, same in ledger]
        for entry in entries:
            if hold([entry], rows)[entry.path].holding is Holding.HELD:
                facts = (entry.path, entry.size, entry.modified_ns)
                self.assertIn(facts, [(one.path, one.size, one.modified_ns) for one in rows if one.own_camera])


class Shifted(TestCase):
    def test_a_card_whose_times_all_moved_by_the_same_hours(self):
        """FAT keeps local time without a zone: Microsoft, 'FAT File System Specification' 1.03, directory entries."""
        ledger = [known(f"{n}", at=n * 60 * S) for n in range(5)]
        for moved, expected in ((HOUR, 3600), (-5 * HOUR, -18_000), (HOUR // 4, 900), (0, None), (7 * S, None)):
            with self.subTest(moved=moved):
                self.assertEqual(
                    shifted_by([on_card(f"{n}", at=n * 60 * S + moved) for n in range(5)], ledger), expected
                )

    def test_times_that_moved_by_different_amounts_are_other_files(self):
        ledger = [known("0", at=0), known("1", at=0)]
        self.assertIsNone(shifted_by([on_card("0", at=HOUR), on_card("1", at=2 * HOUR)], ledger))


class Identity(TestCase):
    A = KnownCard("A-01", frozenset({"S1"}), 64)

    def ask(self, *cards: KnownCard, serial: str = "S1", volume: str = "", capacity: int = 64):
        return who_is(Seen(serial, volume, capacity), cards)

    def test_a_serial_that_one_card_has_settles_it(self):
        self.assertEqual(self.ask(self.A).label, "A-01")
        self.assertEqual(self.ask(self.A, capacity=0).label, "A-01")

    def test_a_serial_whose_card_is_elsewhere_or_of_another_size_is_a_question(self):
        away = self.ask(KnownCard("A-01", frozenset({"S1"}), 64, elsewhere="slot 2"))
        self.assertIsNone(away.label)
        self.assertIn("A-01, which is in slot 2", away.question)
        other = self.ask(self.A, capacity=128)
        self.assertIsNone(other.label)
        self.assertIn("of another size", other.question)

    def test_two_cards_of_one_serial_are_told_apart_by_what_is_on_them_or_asked(self):
        twin = KnownCard("A-02", frozenset({"S1"}), 64)
        asked = self.ask(self.A, twin)
        self.assertIsNone(asked.label)
        self.assertEqual(asked.candidates, ("A-01", "A-02"))
        self.assertEqual(self.ask(self.A, KnownCard("A-02", frozenset({"S1"}), 64, likeness=0.9)).label, "A-02")
        away = KnownCard("A-02", frozenset({"S1"}), 64, elsewhere="slot 2")
        self.assertIn("share one serial", self.ask(self.A, away).question)
        self.assertEqual(self.ask(KnownCard("A-01", frozenset({"S1"}), 64, likeness=0.9), away).label, "A-01")
        both = [KnownCard(label, frozenset({"S1"}), 64, likeness=0.9) for label in ("A-01", "A-02")]
        self.assertIsNone(self.ask(*both).label)

    def test_an_unknown_serial_is_never_settled_only_proposed(self):
        cases = (
            ("content", [KnownCard("A-01", frozenset(), 64, likeness=0.8)], "", "A-01", "is it that card"),
            ("volume name", [self.A], "a-01", "A-01", "was A-01 formatted"),
            ("nothing", [self.A], "UNTITLED", None, "not in the ledger"),
        )
        for name, cards, volume, candidate, words in cases:
            with self.subTest(name):
                answer = self.ask(*cards, serial="S9", volume=volume)
                self.assertIsNone(answer.label)
                self.assertIn(words, answer.question)
                self.assertEqual(answer.candidates, (candidate,) if candidate else ())

    def test_a_card_without_a_serial_is_nobodys(self):
        self.assertIsNone(self.ask(KnownCard("A-01", frozenset({""}), 64), serial="").label)


class Companions(TestCase):
    def clips(self, *entries: Entry):
        return by_base(entries)[0]

    def test_jpeg_here_raw_there_is_a_companion(self):
        here = self.clips(*(on_card(f"DCIM/A{n:04d}.JPG", at=n * 60 * S) for n in range(5)))
        there = [Recording(f"DCIM/a{n:04d}.dng", n * 60 * S + 2 * S) for n in range(5)]
        self.assertEqual(companion_of(here, {"S001": there, "S000": there[:2]}), Companion("S001", 5, 5))

    def test_the_same_rendering_other_moments_or_few_pairs_are_no_companion(self):
        here = self.clips(*(on_card(f"A{n:04d}.JPG", at=n * 60 * S) for n in range(5)))
        for name, there in (
            ("same kind", [Recording(f"A{n:04d}.JPG", n * 60 * S) for n in range(5)]),
            ("another day", [Recording(f"A{n:04d}.DNG", n * 60 * S + 24 * HOUR) for n in range(5)]),
            ("three of five", [Recording(f"A{n:04d}.DNG", n * 60 * S) for n in range(3)]),
        ):
            with self.subTest(name):
                self.assertIsNone(companion_of(here, {"S001": there}))
        self.assertIsNone(companion_of([], {"S001": []}))
