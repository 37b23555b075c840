"""What is known of a card's files can be remembered: the verdict is the same as from the files themselves."""

import json
from dataclasses import replace
from unittest import TestCase

from hypothesis import given, settings

from ruggedraft.core.redundancy import (
    CardFacts,
    ClearanceFact,
    Cover,
    FileFact,
    Files,
    WaiverFact,
    cover_of,
    judge_card,
)
from ruggedraft.core.redundancy.cover import MOST_NAMED, is_left

from .test_second_judge import CASES, NOW, cards, rules

ONE, TWO = FileFact("a", 5, 7, "f1"), FileFact("b", -1, 8)


class Remembered(TestCase):
    @settings(max_examples=CASES, deadline=None)
    @given(cards(), rules)
    def test_a_verdict_by_what_is_remembered_is_the_verdict_by_the_files(self, card, rule):
        remembered = Cover.from_data(json.loads(json.dumps(card.known.as_data())))
        bare = tuple(replace(roll, content=frozenset()) for roll in card.rolls)
        clearance = card.clearance and replace(card.clearance, entries=frozenset())
        light = replace(card, entries=(), rolls=bare, clearance=clearance, cover=remembered)
        self.assertEqual(judge_card(light, rule, NOW), judge_card(card, rule, NOW))

    def test_files_that_fare_alike_are_counted_and_the_first_are_named(self):
        many = [FileFact(f"{n:03d}", 2, 7) for n in reversed(range(70))]
        (files,) = cover_of(many, ()).groups.values()
        self.assertEqual((files.count, files.bytes, len(files.paths)), (70, 140, MOST_NAMED))
        self.assertEqual(files.paths[:2], ("000", "001"))

    def test_what_has_no_size_adds_no_bytes(self):
        self.assertEqual(Files.of([ONE, TWO]), Files(2, 5, ("a", "b")))
        self.assertEqual(Files.of([TWO]) + Files.of([ONE]), Files(2, 5, ("a", "b")))

    def test_a_file_was_left_on_purpose_only_while_it_lies_there_in_no_roll_and_nobody_waived_it(self):
        waived = CardFacts("A", (ONE,), NOW, (), (WaiverFact(ONE, "no", "Sol"),), left=(ONE,))
        self.assertEqual(waived.known.left, Files())
        self.assertEqual(CardFacts("A", (ONE, TWO), NOW, (), left=(ONE,)).known.left.paths, ("a",))
        changed = ONE._replace(modified_ns=9)
        self.assertEqual(CardFacts("A", (changed,), NOW, (), left=(ONE,)).known.where(is_left), Files())

    def test_it_is_known_how_many_files_a_card_was_cleared_with_and_how_many_came_since(self):
        known = CardFacts("A", (ONE, TWO), NOW, (), clearance=ClearanceFact(NOW, frozenset({ONE}))).known
        self.assertEqual((known.cleared, known.came, known.files), (1, 1, 2))
