"""What people are told of rules, cards and changes: each sentence says what is so, and nothing else."""

import filecmp
import json
import tempfile
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from ruggedraft.core.cards.health import CardRun, doubts
from ruggedraft.core.errors import Conflict
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.redundancy import (
    AsideKind,
    CardFacts,
    CardLife,
    ClearanceFact,
    CopyFacts,
    FileFact,
    HoldFact,
    RollFacts,
    Rule,
    Seen,
    SeenRoll,
    SeenWaiver,
    StoreFacts,
    WaiverFact,
    card_sentence,
    changes,
    judge_card,
    life_of,
    proposed_rule,
    rule_sentence,
)
from ruggedraft.core.sources.comparing import same_bytes
from ruggedraft.core.sources.folder import FolderSource
from ruggedraft.core.stores.aside import ASIDE, free_place

NOW = datetime(2026, 5, 14, 12, tzinfo=UTC)
CLIP, LOST = FileFact("1.MOV", 5, 7, "f1"), FileFact("2.MOV", 6, 8, "f2")


def store(name: str, **more) -> StoreFacts:
    return StoreFacts(name, frozenset({name}), "cart", "ssd", **more)


def covered(*content: FileFact, **more) -> RollFacts:
    count = {"files": len(content), "bytes": sum(file.size for file in content)}
    proven = (NOW,) * len(Evidence)
    copies = tuple(CopyFacts(store(name), proven, looked_at=NOW, **count) for name in ("one", "two"))
    return RollFacts("A001", frozenset(content), copies, **count, **more)


def card(*files: FileFact, **more) -> CardFacts:
    known = {"listed_at": NOW, "in_reader": True, "rolls": (covered(CLIP),), **more}
    return CardFacts("A-01", files, **known)


class Rules(TestCase):
    def test_what_stores_suggest_is_never_less_than_two_copies_on_two_devices(self):
        one, two, three = store("one"), store("two"), store("three")
        for stores, copies, devices, offsite in (
            ((), 2, 2, 0),
            ((one,), 2, 2, 0),
            ((one, two, three), 3, 3, 0),
            ((one, two, replace(three, devices=two.devices)), 2, 2, 0),
            ((one, two, replace(three, counts=False)), 2, 2, 0),
            ((one, two, replace(three, offsite=True)), 3, 3, 1),
        ):
            rule = proposed_rule(stores)
            self.assertEqual((rule.copies, rule.devices, rule.offsite), (copies, devices, offsite))

    def test_a_rule_in_words_names_everything_it_asks(self):
        week = timedelta(days=7)
        whole = Rule(3, 2, 2, 1, 2, Evidence.READ_BACK, week, timedelta(days=1), 0.1, 2, chosen_only=True)
        for rule, words in (
            (Rule(), "2 copies on 2 devices, each read back"),
            (Rule(copies=1, devices=1), "1 copy on 1 device, read back"),
            (whole, "3 copies on 2 devices, 1 off-site, in 2 places, of 2 kinds, each read back, 10% of the clips "
             "looked at, read in the last 7 days, on a shelf for 1 day at most, of what was chosen, signed by 2"),
        ):  # fmt: skip
            self.assertEqual(rule_sentence(rule), words)


class ChangesSinceSigned(TestCase):
    ROLL = SeenRoll("A001", 2, 11, 0, 0, "two copies", ("one", "two"))
    WAIVER = SeenWaiver("3.MOV", 1, 2, "f3", "a bad sector", "Sol")
    SEEN = Seen("e1", 2, (ROLL,), (), "two copies")

    def test_each_thing_that_is_otherwise_is_told_and_voids_the_digest(self):
        other, counts = self.ROLL._replace(tag="A002"), self.ROLL._replace(counting=("one", "three"))
        holds = self.ROLL._replace(files=1, bytes=5, waived=1)
        for after, told in (
            (replace(self.SEEN, entries="e2", files=3), ["what is on the card changed: 2 files then, 3 files now"]),
            (replace(self.SEEN, rule="one copy"), ["the rule changed"]),
            (replace(self.SEEN, rolls=(self.ROLL, other)), ["files of A002 are on it"]),
            (replace(self.SEEN, rolls=()), ["nothing of A001 is on it any more"]),
            (replace(self.SEEN, waivers=(self.WAIVER,)), ["Sol waived 3.MOV: a bad sector"]),
            (replace(self.SEEN, rolls=(counts,)), ["the copy of A001 on 'three' counts now",
                                                   "the copy of A001 on 'two' does not count any more"]),
            (replace(self.SEEN, rolls=(self.ROLL._replace(rule="one"),)), ["what is asked of A001 changed"]),
            (replace(self.SEEN, rolls=(holds,)),
             ["what A001 holds changed: 2 files, 11 bytes, 0 waived then, 1 file, 5 bytes, 1 waived now"]),
        ):  # fmt: skip
            self.assertEqual(list(changes(self.SEEN, after)), told)
            self.assertNotEqual(self.SEEN.digest, after.digest)
            self.assertEqual(Seen.from_data(json.loads(json.dumps(after.as_data()))), after)
        waived = replace(self.SEEN, waivers=(self.WAIVER,))
        self.assertEqual(list(changes(waived, self.SEEN)), ["the waiver of 3.MOV is about another file now"])
        self.assertEqual(changes(waived, waived), ())


class Health(TestCase):
    def runs(self, *rates: float | None, errors: tuple[int, ...] = ()) -> list[CardRun]:
        given = dict(enumerate(errors))
        return [CardRun(NOW + timedelta(days=n), given.get(n, 0), rate) for n, rate in enumerate(rates)]

    def test_errors_and_slowness_are_named_and_one_slow_run_is_no_doubt(self):
        fast, slow = 200e6, 90e6
        self.assertEqual(doubts(self.runs(fast, fast, fast, fast, slow)), ())
        self.assertEqual(doubts(self.runs(fast, fast, slow, slow)), (), "too few to know what is usual")
        self.assertEqual(doubts(self.runs(fast, fast, None, fast, None, slow, slow))[0].split(":")[0],
                         "it has become slow")  # fmt: skip
        (error,) = doubts(self.runs(fast, fast, fast, errors=(1, 2)))
        self.assertEqual(error, "it gave read errors in 3 files on 2026-05-15: take it out of use")

    def test_half_of_what_was_usual_is_not_yet_slow(self):
        self.assertEqual(doubts(self.runs(200, 200, 200, 100, 100)), ())
        self.assertEqual(len(doubts(self.runs(200, 200, 200, 99, 99))), 1)


class ACardsLife(TestCase):
    RULE = Rule(listing_within=timedelta(minutes=60), looked_within=timedelta(minutes=10))

    def told(self, facts: CardFacts, rolls: int = 1) -> tuple[CardLife, str]:
        verdict = judge_card(facts, self.RULE, NOW)
        return life_of(facts, verdict, rolls=rolls), card_sentence(facts, verdict)

    def test_each_state_and_what_is_said_of_it(self):
        signed = ClearanceFact(NOW, frozenset({CLIP}))
        back, out = replace(signed, handed_back_at=NOW), {"in_reader": False}
        recalled = replace(signed, revoked_at=NOW, revoked_by="Sol", revoked_why="the lab called")
        held = covered(CLIP, holds=(HoldFact("the lab has not called", "Sol"),))
        waived = {"waivers": (WaiverFact(LOST, "a bad sector", "Sol"),)}
        all_covered = "Every file on it is in enough copies."
        for facts, life, words in (
            (card(CLIP, aside=AsideKind.RETIRED), CardLife.RETIRED, all_covered),
            (card(CLIP, aside=AsideKind.LOST, in_reader=False), CardLife.LOST, all_covered),
            (card(CLIP, aside=AsideKind.BROKEN), CardLife.BROKEN, all_covered),
            (card(out_of_use="it gave read errors", aside=AsideKind.QUARANTINE, rolls=()), CardLife.QUARANTINED,
             "Nothing on it is owed. It gave read errors."),
            (card(CLIP, clearance=back, **out), CardLife.HANDED_BACK, "It was cleared and handed back. What"),
            (card(CLIP, rolls=(held,)), CardLife.HELD, "Not clear: "),
            (card(CLIP, clearance=signed), CardLife.CLEARED, "Cleared: hand it back"),
            (card(CLIP, clearance=back), CardLife.CLEARED, "It was cleared and handed back, and is here again"),
            (card(rolls=()), CardLife.FORMATTED, "Nothing is on it, and nothing that was on it is missing."),
            (card(CLIP), CardLife.IN_READER, f"{all_covered} Nobody has signed yet."),
            (card(CLIP, clearance=recalled), CardLife.IN_READER,
             f"{all_covered} Sol revoked its clearance: the lab called. Nobody has signed since."),
            (card(CLIP, LOST, **waived), CardLife.IN_READER,
             "1 of its 2 files are in enough copies. 1 was waived by name and may be lost. Nobody"),
            (card(CLIP, rolls=()), CardLife.IN_READER, "Nothing of its 1 file is in any copy."),
            (card(CLIP, LOST), CardLife.IN_READER, "Not clear: "),
            (card(CLIP, running=True), CardLife.IN_READER, "It is being offloaded."),
            (card(listed_at=None, **out), CardLife.NEW, "What is on it is not known here yet."),
            (card(rolls=(), **out), CardLife.IN_CAMERA, "Nothing spoke against it when it was last read."),
            (card(CLIP, **out), CardLife.WAITING, all_covered),
        ):  # fmt: skip
            with self.subTest(life=life, words=words):
                found, said = self.told(facts)
                self.assertEqual(found, life)
                self.assertTrue(said.startswith(words), said)
        self.assertEqual(self.told(card(rolls=()), rolls=0)[0], CardLife.IN_READER)

    def test_of_two_signatures_one_is_missing(self):
        rule = replace(self.RULE, signers=2)
        facts = card(CLIP, signed_by=("Wren",))
        said = card_sentence(facts, judge_card(facts, rule, NOW))
        self.assertEqual(said, "Every file on it is in enough copies. 1 more person must sign.")


class Comparing(TestCase):
    """Against filecmp of the standard library, which reads both files whole when told to."""

    @given(st.binary(max_size=40), st.binary(max_size=40), st.sampled_from((0, 1, (1 << 20) - 1, 1 << 20)))
    def test_same_bytes_only_where_a_program_that_knows_nothing_of_us_says_so(self, one, other, before):
        with tempfile.TemporaryDirectory() as folder:
            paths = [Path(folder, name) for name in ("one", "other")]
            for path, tail in zip(paths, (one, other), strict=True):
                path.write_bytes(bytes(before) + tail)
            source = FolderSource(Path(folder))
            files = [source.open(path.name) for path in paths]
            try:
                self.assertEqual(same_bytes(*files), filecmp.cmp(*paths, shallow=False))
            finally:
                for file in files:
                    file.close()


class SetAside(TestCase):
    def test_the_first_free_number_is_taken_and_nothing_is_written_over(self):
        taken = {f"{ASIDE}/{n}/a/1.MOV" for n in (1, 2, 4)}
        self.assertEqual(free_place("a/1.MOV", taken.__contains__), f"{ASIDE}/3/a/1.MOV")
        with self.assertRaises(Conflict):
            free_place("a/1.MOV", lambda place: True)
