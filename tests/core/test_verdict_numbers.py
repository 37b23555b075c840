"""The numbers behind each reason, the files it is about, and the edges of times and levels."""

from dataclasses import replace
from datetime import timedelta
from unittest import TestCase

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.redundancy import (
    CardFacts,
    CardStanding,
    ClearanceFact,
    CopyFacts,
    FileFact,
    HoldFact,
    RollFacts,
    RollState,
    Rule,
    StoreFacts,
    WaiverFact,
    is_recent,
    judge_card,
    judge_roll,
    roll_state,
    same_time,
    survival,
)

from .test_redundancy import ARRAY, CLIP, NOW, SSD1, SSD2, TWO, copy, roll, store


class Numbers(TestCase):
    """Each reason comes with the numbers behind it and the files it is about; screens count with them."""

    LATE, STRAY = FileFact("late", 1, 1, "l"), FileFact("stray", 1, 1, "s")
    HOURLY = replace(TWO, listing_within=timedelta(minutes=60))

    def blocks(self, card: CardFacts, rule: Rule = TWO) -> list[tuple[str, int, int, tuple[str, ...]]]:
        return [(b.kind, b.have, b.need, b.paths) for b in judge_card(card, rule, NOW).blocks]

    def of_roll(self, facts: RollFacts, rule: Rule = TWO) -> list[tuple[str, int, int]]:
        return [(b.kind, b.have, b.need) for b in judge_roll(facts, rule, NOW).blocks]

    def test_of_a_roll(self):
        good = (copy(SSD1), copy(SSD2))
        strict = Rule(copies=2, devices=3, locations=2, offsite=1, media=2)
        for words, facts, rule, expected in (
            ("nothing counts: one place and one medium go without saying", roll(), TWO,
             [("copies", 0, 2), ("devices", 0, 2)]),
            ("a rule of one is named by its copy alone", roll(), Rule(copies=1, devices=1), [("copies", 0, 1)]),
            ("every part", roll(*good), strict,
             [("devices", 2, 3), ("locations", 1, 2), ("off-site", 0, 1), ("media kinds", 1, 2)]),
            ("one off-site is needed though nothing counts", roll(), Rule(copies=1, devices=1, offsite=1),
             [("copies", 0, 1), ("off-site", 0, 1)]),
            ("two off-site", roll(*good, copy(ARRAY)), Rule(offsite=2), [("off-site", 1, 2)]),
            ("one file never read", roll(*good, unread=1), TWO, [("unread", 1, 0)]),
            ("nothing was taken", RollFacts("A", frozenset(), good), TWO, [("nothing", 0, 0)]),
            ("looked at too little", roll(*good, looked_at=0.25), replace(TWO, looked_at=0.5), [("looked at", 25, 50)]),
            ("… nearly enough", roll(*good, looked_at=0.8), replace(TWO, looked_at=0.9), [("looked at", 80, 90)]),
            ("looked at just enough", roll(*good, looked_at=0.5), replace(TWO, looked_at=0.5), []),
        ):  # fmt: skip
            with self.subTest(words):
                self.assertEqual(self.of_roll(facts, rule), expected)

    def test_of_a_card(self):
        good, one = roll(copy(SSD1), copy(SSD2)), CLIP.path
        held = replace(good, holds=(HoldFact("wait", "Sol"), HoldFact("and wait", "Wren")))
        other = FileFact("other", 1, 1, "o")
        then, then_too = (ClearanceFact(NOW, frozenset(those)) for those in ([CLIP], [CLIP, self.LATE]))
        both = replace(roll(copy(SSD1)), content=frozenset({CLIP, other}), files=2)
        for words, card, expected in (
            ("two holds are two reasons", CardFacts("A", (CLIP,), NOW, (held,)), [("hold", 0, 0, ())] * 2),
            ("two strangers", CardFacts("A", (CLIP, self.LATE, self.STRAY), NOW, (good,)),
             [("uncovered", 2, 0, ("late", "stray"))]),
            ("not compared", CardFacts("A", (CLIP._replace(fingerprint=""),), NOW, (good,)),
             [("unconfirmed", 1, 0, (one,))]),
            ("two not compared, the roll's copies are judged all the same",
             CardFacts("A", (CLIP._replace(fingerprint=""), other._replace(fingerprint="")), NOW, (both,)),
             [("unconfirmed", 2, 0, (one, "other")), ("copies", 1, 2, ()), ("devices", 1, 2, ())]),
            ("files gone", CardFacts("A", (CLIP,), NOW, (good,), gone=(self.LATE, self.STRAY)),
             [("gone", 2, 0, ("late", "stray"))]),
            ("one came after it was cleared", CardFacts("A", (CLIP, self.LATE), NOW, (good,), clearance=then),
             [("revoked", 1, 0, ("late",)), ("uncovered", 1, 0, ("late",))]),
            ("all of it came after it was cleared", CardFacts("A", (self.LATE,), NOW, (), clearance=then),
             [("uncovered", 1, 0, ("late",))]),
            ("it was cleared while it was empty",
             CardFacts("A", (CLIP, self.LATE), NOW, (good,), clearance=ClearanceFact(NOW, frozenset())),
             [("uncovered", 1, 0, ("late",))]),
            ("cleared, and a stranger that was there then came back from no roll",
             CardFacts("A", (CLIP, self.LATE), NOW, (good,), clearance=then_too),
             [("uncovered", 1, 0, ("late",))]),
            ("nothing was offloaded, and all of it is waived",
             CardFacts("A", (self.LATE,), NOW, (), (WaiverFact(self.LATE, "no", "Sol"),)), [("nothing", 0, 0, ())]),
        ):  # fmt: skip
            with self.subTest(words):
                self.assertEqual(self.blocks(card), expected)

    def test_of_a_listing(self):
        good = roll(copy(SSD1), copy(SSD2))
        for age, expected, words in (
            (timedelta(minutes=61, seconds=30), [("listing", 61, 60, ())], "61 min ago, and the rule allows 60 min"),
            (timedelta(hours=5), [("listing", 300, 60, ())], "5 h ago"),
            (timedelta(days=3), [("listing", 4320, 60, ())], "3 days ago"),
            (-timedelta(seconds=1), [("listing", 0, 0, ())], "lies in the future"),
        ):
            card = CardFacts("A", (CLIP,), NOW - age, (good,))
            self.assertEqual(self.blocks(card, self.HOURLY), expected)
            self.assertIn(words, judge_card(card, self.HOURLY, NOW).blocks[0].sentence)
        self.assertEqual(self.blocks(CardFacts("A", (), None, ())), [("listing", 0, 0, ())])

    def test_whose_footage_is_in_no_copy_at_all(self):
        """What makes a card wait on the foot line, whatever else is wrong with it."""
        good = roll(copy(SSD1), copy(SSD2))
        for words, card, unsaved in (
            ("covered", CardFacts("A", (CLIP,), NOW, (good,)), False),
            ("short of a copy", CardFacts("A", (CLIP,), NOW, (roll(copy(SSD1)),)), False),
            ("on hold", CardFacts("A", (CLIP,), NOW, (replace(good, holds=(HoldFact("wait", "Sol"),)),)), False),
            ("a stranger", CardFacts("A", (self.LATE,), NOW, ()), True),
            ("a file gone", CardFacts("A", (), NOW, (), gone=(self.LATE,)), True),
            ("a file never read", CardFacts("A", (CLIP,), NOW, (roll(copy(SSD1), unread=1),)), True),
            ("harmed everywhere", CardFacts("A", (CLIP,), NOW, (roll(copy(SSD1), bare=1),)), True),
            ("a stranger, and a hold on the rest",
             CardFacts("A", (CLIP, self.LATE), NOW, (replace(good, holds=(HoldFact("wait", "Sol"),)),)), True),
            ("of two rolls that are short one is harmed everywhere",
             CardFacts("A", (CLIP, self.LATE), NOW, (
                 roll(copy(SSD1)), RollFacts("B", frozenset({self.LATE}), (), files=1, bare=1))), True),
            ("harmed everywhere in a roll nothing on the card rests on",
             CardFacts("A", (CLIP,), NOW, (good, RollFacts("B", frozenset({self.LATE}), (), files=1, bare=1))), False),
        ):  # fmt: skip
            with self.subTest(words):
                self.assertEqual(judge_card(card, TWO, NOW).unsaved, unsaved)

    def test_which_files_are_which(self):
        short = replace(roll(copy(SSD1)), tag="S", content=frozenset({self.LATE}))
        unread = replace(roll(copy(SSD1), unread=1), tag="U", content=frozenset({FileFact("unread", 1, 1)}))
        entries = (CLIP, self.LATE, self.STRAY, FileFact("unread", 1, 1, "u"), FileFact("other", 1, 1))
        unsure = replace(roll(copy(SSD1)), tag="O", content=frozenset({FileFact("other", 1, 1, "o")}))
        card = CardFacts("A", entries, NOW, (roll(copy(SSD1), copy(SSD2)), short, unread, unsure))
        verdict = judge_card(card, TWO, NOW)
        paths = [list(files.paths) for files in (verdict.strangers, verdict.uncovered, verdict.unconfirmed)]
        self.assertEqual(paths, [["stray"], ["late", "stray", "unread"], ["other"]])

    def test_signatures_still_missing_are_counted(self):
        two = replace(TWO, signers=2)
        for signed, missing, standing in (
            ((), 2, CardStanding.CLEARABLE),
            (("wren",), 1, CardStanding.SIGNED),
            (("wren", "sol"), 0, CardStanding.CLEARABLE),
        ):
            card = CardFacts("A", (CLIP,), NOW, (roll(copy(SSD1), copy(SSD2)),), signed_by=signed, ran=("wren",))
            verdict = judge_card(card, two, NOW)
            self.assertEqual((verdict.missing_signatures, verdict.standing), (missing, standing))

    def test_the_rule_and_the_facts_that_nobody_stated(self):
        """What a rule asks for where it says nothing, and what is taken to be so of a store, a copy, a roll, a card."""
        asked = (2, 2, 1, 0, 1, Evidence.READ_BACK, None, None, 0.0, 1, None, None)
        self.assertEqual(Rule(), Rule(*asked))
        place = StoreFacts("one", frozenset("d"), "cart", "ssd")
        self.assertEqual(place, StoreFacts("one", frozenset("d"), "cart", "ssd", False, True, False, True, 0))
        self.assertEqual(CopyFacts(place), CopyFacts(place, (None,) * 4, 0, 0, 0, 0, 0, None))
        nothing = RollFacts("A", frozenset(), ())
        self.assertEqual(nothing, RollFacts("A", frozenset(), (), (), 0.0, 0, 0, 0, 0, 0, 0))
        unknown = CardFacts("A", (), None, ())
        self.assertEqual(unknown, CardFacts("A", (), None, (), (), (), None, False, False, None, (), ()))


class Times(TestCase):
    def test_a_moment_is_recent_up_to_the_very_limit_and_never_before_its_time(self):
        hour = timedelta(hours=1)
        for at, within, recent in (
            (NOW, hour, True),
            (NOW - hour, hour, True),
            (NOW - hour - timedelta(microseconds=1), hour, False),
            (NOW + timedelta(microseconds=1), hour, False),
            (NOW - 999 * hour, None, True),
            (None, hour, False),
            (None, None, False),
        ):
            self.assertEqual(is_recent(at, within, NOW), recent)

    def test_zones_lie_within_twenty_six_hours_in_steps_of_a_quarter(self):
        quarter = 900 * 10**9
        for apart, same in ((0, True), (quarter, True), (104 * quarter, True), (105 * quarter, False),
                            (quarter - 1, False), (-quarter, True), (1, False), (quarter // 3, False)):  # fmt: skip
            self.assertEqual(same_time(7, 7 + apart), same, apart)

    def test_a_fingerprint_confirms_and_its_absence_leaves_it_open(self):
        plain = CLIP._replace(fingerprint="")
        for one, other, surely, maybe in (
            (CLIP, CLIP, True, False),
            (CLIP, CLIP._replace(fingerprint="x"), False, False),
            (CLIP, plain, False, True),
            (plain, CLIP, False, True),
            (plain, plain, False, True),
            (CLIP, CLIP._replace(size=6), False, False),
            (plain, plain._replace(path="x"), False, False),
            (plain, plain._replace(modified_ns=8), False, False),
        ):
            self.assertEqual((one.is_surely(other), one.may_be(other)), (surely, maybe))

    def test_losses_survived(self):
        for copies, devices, locations in (
            ((), -1, -1),
            ((copy(SSD1),), 0, 0),
            ((copy(SSD1), copy(SSD2), copy(ARRAY)), 2, 1),
            ((copy(SSD1), copy(store("twin", device="SSD-1"))), 0, 0),
        ):
            lived = survival(copies)
            self.assertEqual((lived.devices, lived.locations), (devices, locations))

    def test_a_roll_below_the_line_is_one_whose_card_was_cleared(self):
        met, short = judge_roll(roll(copy(SSD1), copy(SSD2)), TWO, NOW), judge_roll(roll(copy(SSD1)), TWO, NOW)
        for verdict, cleared, state in (
            (met, False, RollState.SAFE), (met, True, RollState.SAFE),
            (short, False, RollState.SHORT), (short, True, RollState.BELOW),
        ):  # fmt: skip
            self.assertEqual(roll_state(verdict, cleared=cleared), state)

    def test_the_level_of_a_copy_is_its_strongest_and_its_age_that_of_the_same(self):
        old = NOW - timedelta(days=9)
        for proven, level, at in (
            ((old, old, None, None), Evidence.WRITTEN, old),
            ((NOW, NOW, NOW, old), Evidence.READ_BACK, old),
            ((None,) * 4, Evidence.LISTED, None),
        ):
            facts = CopyFacts(SSD1, proven)
            self.assertEqual((facts.level, facts.read_at), (level, at))
