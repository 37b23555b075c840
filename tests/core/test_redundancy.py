"""The rules at the heart: what counts and what blocks."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from unittest import TestCase

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.redundancy import (
    BlockKind,
    CardFacts,
    CardStanding,
    ClearanceFact,
    CopyFacts,
    CopyState,
    FileFact,
    Files,
    HoldFact,
    RollFacts,
    Rule,
    StoreFacts,
    WaiverFact,
    card_sentence,
    copy_state,
    device_groups,
    is_lashed,
    judge_card,
    judge_roll,
    signatures_missing,
    signing_blocks,
    survival,
    what_would_it_take,
)

NOW = datetime(2026, 5, 14, 12, tzinfo=UTC)
GB = 10**9
CLIP = FileFact("DCIM/100AAAAA/AAAA0001.JPG", 5, 7, "f1")


def store(name: str, device: str | None = None, location: str = "cart", medium: str = "ssd", **more) -> StoreFacts:
    return StoreFacts(name, frozenset({device or name}), location, medium, **{"free": 100 * GB, **more})


def copy(place: StoreFacts, level: Evidence = Evidence.READ_BACK, read_at: datetime | None = NOW, **more) -> CopyFacts:
    proven = tuple(read_at if one <= level else None for one in Evidence)
    return CopyFacts(place, proven, **{"files": 1, "bytes": 2 * GB, "looked_at": NOW, **more})


def roll(*copies: CopyFacts, **more) -> RollFacts:
    return RollFacts("A012", frozenset({CLIP}), copies, **{"files": 1, "bytes": 2 * GB, **more})


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
        facts = roll(copy(SSD1), copy(SSD2, missing_files=1, missing_bytes=5, broken_files=1))
        self.assertIn(("copies", 1, 2), self._unmet(facts, TWO))
        remedy = what_would_it_take(facts, [SSD1, SSD2, ARRAY], TWO, NOW)
        self.assertEqual([(s.act, s.store, s.files, s.bytes) for s in remedy.steps], [("mend", "SSD-2", 1, 5)])

    def test_a_new_file_on_the_card_blocks_by_name(self):
        stray = FileFact("DCIM/100AAAAA/AAAA0002.JPG", 1, 1, "f2")
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
            "never read": copy(SSD2, read_at=None),
            "only written": copy(SSD2, Evidence.WRITTEN),
            "a file missing": copy(SSD2, missing_files=1),
            "nothing there": copy(SSD2, files=0),
            "store lost": copy(replace(SSD2, lost=True)),
            "landing area": copy(replace(SSD2, counts=False)),
            "read too long ago": copy(SSD2, read_at=NOW - timedelta(days=31)),
            "read in the future": copy(SSD2, read_at=NOW + timedelta(seconds=1)),
            "on a shelf too long": copy(replace(SSD2, online=False), read_at=NOW - timedelta(days=8)),
        }
        rule = replace(TWO, fresh=timedelta(days=30), shelf=timedelta(days=7))
        for words, second in cases.items():
            with self.subTest(words):
                verdict = judge_roll(roll(copy(SSD1), second), rule, NOW)
                self.assertEqual([c.store.name for c in verdict.counting], ["SSD-1"])

    def test_a_changed_file_is_not_covered_by_its_old_version(self):
        for changed in (CLIP._replace(size=6), CLIP._replace(modified_ns=8), CLIP._replace(fingerprint="f2")):
            card = CardFacts("A-01", (changed,), NOW, (roll(copy(SSD1), copy(SSD2)),))
            self.assertFalse(judge_card(card, TWO, NOW).clearable)

    def test_a_waiver_covers_exactly_the_file_it_names(self):
        stray = FileFact("notes.txt", 3, 3, "f3")
        waiver = WaiverFact(stray, "not ours", "Sol")
        facts = roll(copy(SSD1), copy(SSD2))
        good = judge_card(CardFacts("A", (CLIP, stray), NOW, (facts,), (waiver,)), TWO, NOW)
        self.assertTrue(good.clearable)
        self.assertEqual(good.waived, Files(1, 3, (stray.path,)))
        self.assertIn(
            "1 of its 2 files are in enough copies", card_sentence(CardFacts("A", (CLIP, stray), NOW, ()), good)
        )
        for other in (stray._replace(size=4), stray._replace(fingerprint="f4"), stray._replace(fingerprint="")):
            card = CardFacts("A", (CLIP, other), NOW, (facts,), (waiver,))
            self.assertFalse(judge_card(card, TWO, NOW).clearable)

    def test_a_waiver_does_not_lower_the_rule_for_the_other_files(self):
        stray = FileFact("notes.txt", 3, 3, "f3")
        card = CardFacts("A", (CLIP, stray), NOW, (roll(copy(SSD1)),), (WaiverFact(stray, "seen it", "Sol"),))
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


class Cards(TestCase):
    """Where a card stands: only what is known now says that it may go."""

    GOOD = roll(copy(SSD1), copy(SSD2))
    RULE = replace(TWO, listing_within=timedelta(minutes=60), looked_within=timedelta(minutes=10))
    SIGNED_FOR = ClearanceFact(NOW, frozenset({CLIP}))

    def standing(self, *entries: FileFact, rolls=(GOOD,), listed_at=NOW, **more) -> CardStanding:
        return judge_card(
            CardFacts("A", entries, listed_at, rolls, **{"in_reader": True, **more}), self.RULE, NOW
        ).standing

    def test_who_has_no_fingerprint_to_compare_with_is_told_to_compare_by_content(self):
        """Name, size and time alone clear nothing; once the card was read whole, that tells."""
        bare = CLIP._replace(fingerprint="")
        unknown = replace(self.GOOD, content=frozenset({bare}))
        card = CardFacts("A", (CLIP,), NOW, (unknown,), in_reader=True)
        (block,) = judge_card(card, self.RULE, NOW).blocks
        self.assertEqual(block.kind, BlockKind.UNCONFIRMED)
        self.assertIn("compared by content", block.sentence)
        (block,) = judge_card(replace(card, entries=(bare,), rolls=(self.GOOD,)), self.RULE, NOW).blocks
        self.assertIn("that is being done", block.sentence)
        read = replace(card, rolls=(replace(unknown, content=frozenset({bare, CLIP})),))
        self.assertEqual(judge_card(read, self.RULE, NOW).standing, CardStanding.CLEARABLE)

    def test_the_table(self):
        old, stray = NOW - timedelta(hours=2), FileFact("stray", 1, 1, "s")
        gone, out = {"gone": (stray,)}, {"in_reader": False}
        given = {"clearance": replace(self.SIGNED_FOR, handed_back_at=NOW)}
        cases = (
            ("never listed", CardStanding.NEVER_READ, self.standing(listed_at=None)),
            ("nothing on it", CardStanding.EMPTY, self.standing(rolls=())),
            ("nothing on it, out of the reader", CardStanding.OLD, self.standing(rolls=(), **out)),
            ("nothing on it, listed long ago", CardStanding.OLD, self.standing(rolls=(), listed_at=old)),
            ("nothing on it, and a file is owed", CardStanding.GONE, self.standing(rolls=(), **gone)),
            ("covered, and a file is owed", CardStanding.GONE, self.standing(CLIP, **gone)),
            ("nothing offloaded", CardStanding.UNREAD, self.standing(CLIP, rolls=())),
            ("being offloaded", CardStanding.RUNNING, self.standing(CLIP, running=True)),
            ("covered", CardStanding.CLEARABLE, self.standing(CLIP)),
            ("covered, out of the reader", CardStanding.CLEARABLE, self.standing(CLIP, **out)),
            ("covered, listed long ago", CardStanding.OLD, self.standing(CLIP, listed_at=old)),
            ("listed in the future", CardStanding.OLD, self.standing(CLIP, listed_at=NOW + timedelta(minutes=1))),
            ("not compared yet", CardStanding.BLOCKED, self.standing(CLIP._replace(fingerprint=""))),
            ("covered by a roll of which no fingerprint is known", CardStanding.BLOCKED,
             self.standing(CLIP, rolls=(replace(self.GOOD, content=frozenset({CLIP._replace(fingerprint="")})),))),
            ("the same, and none is known of the card's file", CardStanding.BLOCKED,
             self.standing(CLIP._replace(fingerprint=""),
                           rolls=(replace(self.GOOD, content=frozenset({CLIP._replace(fingerprint="")})),))),
            ("another file of the same name, size and time", CardStanding.UNREAD,
             self.standing(CLIP._replace(fingerprint="x"), rolls=())),
            ("cleared", CardStanding.CLEARED, self.standing(CLIP, clearance=self.SIGNED_FOR)),
            ("cleared, listed long ago", CardStanding.OLD,
             self.standing(CLIP, listed_at=old, clearance=self.SIGNED_FOR)),
            ("cleared, one of its copies lost since", CardStanding.BLOCKED,
             self.standing(CLIP, rolls=(roll(copy(SSD1), copy(replace(SSD2, lost=True))),), clearance=self.SIGNED_FOR)),
            ("cleared and handed back", CardStanding.OUT, self.standing(CLIP, **out, **given)),
            ("cleared, handed back, here again as it was", CardStanding.CLEARED, self.standing(CLIP, **given)),
            ("cleared, a stray file came", CardStanding.BLOCKED, self.standing(CLIP, stray, clearance=self.SIGNED_FOR)),
            ("cleared, other bytes under the same name", CardStanding.BLOCKED,
             self.standing(CLIP._replace(fingerprint="x"), clearance=self.SIGNED_FOR)),
        )  # fmt: skip
        for words, expected, found in cases:
            with self.subTest(words):
                self.assertEqual(found, expected)

    def test_what_came_after_a_clearance_needs_one_of_its_own_once_it_is_covered(self):
        late = FileFact("late", 1, 1, "l")
        both = replace(self.GOOD, content=frozenset({CLIP, late}))
        self.assertEqual(self.standing(CLIP, late, rolls=(both,), clearance=self.SIGNED_FOR), CardStanding.CLEARABLE)

    def test_fat_times_shift_by_the_zone_they_are_read_in(self):
        hour = 3600 * 10**9
        for shift, known in ((hour, True), (-5 * hour - hour // 2, True), (hour + 1, False), (27 * hour, False)):
            moved = CLIP._replace(modified_ns=CLIP.modified_ns + shift)
            self.assertEqual(self.standing(moved) is CardStanding.CLEARABLE, known, shift)

    def test_a_clearance_still_speaks_of_a_card_whose_waived_file_cannot_be_read(self):
        bad = FileFact("bad", 3, 3)
        said, then = WaiverFact(bad, "a bad sector", "Sol"), ClearanceFact(NOW, frozenset({CLIP, bad}))
        self.assertEqual(self.standing(CLIP, bad, waivers=(said,), clearance=then), CardStanding.CLEARED)

    def test_lashed_only_where_every_file_is_covered(self):
        stray = FileFact("stray", 1, 1, "s")
        for entries, lashed in (((CLIP,), True), ((CLIP, stray), False), ((), False)):
            card = CardFacts("A", entries, NOW, (self.GOOD,))
            self.assertEqual(is_lashed(card, judge_card(card, self.RULE, NOW)), lashed)

    def test_of_two_rolls_that_hold_a_file_one_that_is_met_is_enough_but_holds_of_both_count(self):
        short = replace(roll(copy(SSD1)), tag="A011")
        self.assertEqual(self.standing(CLIP, rolls=(short, self.GOOD)), CardStanding.CLEARABLE)
        held = replace(short, holds=(HoldFact("wait", "Sol"),))
        self.assertEqual(self.standing(CLIP, rolls=(held, self.GOOD)), CardStanding.BLOCKED)

    def test_a_signature_rests_on_looks_from_just_before(self):
        asked = NOW - timedelta(seconds=5)
        shelved = copy(replace(SSD2, online=False), looked_at=None)
        for words, second, confirmed, waits in (
            ("all looked at", copy(SSD2), NOW, 0),
            ("the card in the very moment", copy(SSD2), asked, 0),
            ("the card not since", copy(SSD2), asked - timedelta(seconds=1), 1),
            ("a copy not since", copy(SSD2, looked_at=asked - timedelta(seconds=1)), NOW, 1),
            ("a copy never", copy(SSD2, looked_at=None), NOW, 1),
            ("a copy in the very moment", copy(SSD2, looked_at=asked), NOW, 0),
            ("a copy in the future", copy(SSD2, looked_at=NOW + timedelta(seconds=1)), NOW, 1),
            ("a copy on a shelf", shelved, NOW, 0),
        ):
            with self.subTest(words):
                facts = CardFacts(
                    "A", (CLIP,), NOW, (roll(copy(SSD1), second),), confirmed_at=confirmed, in_reader=True
                )
                self.assertEqual(len(signing_blocks(facts, self.RULE, NOW, since=asked)), waits)

    def test_what_each_copy_is_called(self):
        rule = replace(TWO, fresh=timedelta(days=30))
        for expected, one in (
            (CopyState.VERIFIED, copy(SSD1)),
            (CopyState.WANTED, copy(SSD1, files=0, missing_files=3)),
            (CopyState.PARTIAL, copy(SSD1, missing_files=3)),
            (CopyState.BROKEN, copy(SSD1, missing_files=3, broken_files=1)),
            (CopyState.WEAK, copy(SSD1, Evidence.WRITTEN)),
            (CopyState.WEAK, copy(replace(SSD1, counts=False))),
            (CopyState.STALE, copy(SSD1, read_at=NOW - timedelta(days=31))),
            (CopyState.LOST, copy(replace(SSD1, lost=True))),
        ):
            self.assertEqual(copy_state(one, rule, NOW), expected)

    def test_sets_of_devices_that_overlap_are_one(self):
        a, b, c, d = (replace(SSD1, devices=frozenset(ids)) for ids in ({"1", "2"}, {"2", "3"}, {"3", "4"}, {"5"}))
        for stores, count in (((a, b), 1), ((a, b, c), 1), ((a, c), 2), ((a, c, b), 1), ((a, d), 2), ((), 0)):
            self.assertEqual(len(device_groups(stores)), count)
