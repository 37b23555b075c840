"""A shift hands over: as things stand, kept as they stood, and taken over by name."""

from django.test import TestCase

from ruggedraft.clearing.acts.pass_card import pass_card
from ruggedraft.core.errors import ActRefused
from ruggedraft.intake.watching import look
from ruggedraft.journal.models import JournalEntry
from ruggedraft.notes.acts.write_note import write_note
from ruggedraft.notes.models import NoteOn
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.proposal import propose
from ruggedraft.rolls.acts.report_loss import report_loss
from ruggedraft.shifts.acts.hand_over import take_over
from ruggedraft.shifts.models import Matter
from ruggedraft.standins import hub

from .world import World


class Shifts(World, TestCase):
    def setUp(self):
        super().setUp()
        self.ned = self.person("ned", "wrangler")

    def now(self) -> list[tuple[str, str, str]]:
        return [(one["kind"], one["subject"], one["sentence"]) for one in self.get("shifts/now")]

    def hand_over(self, words: str = "", person=None):
        return self.post("shifts", {"words": words}, person or self.wren)

    def open(self, person=None) -> list[dict]:
        return self.get("shifts", person or self.ned)["open"]

    def take(self, ids, person=None):
        return self.post("shifts/taken", {"matters": list(ids)}, person or self.ned)

    def test_what_runs_what_waits_what_is_wrong_and_which_cards_are_where(self):
        self.offload()
        hub.remove("slot-1")
        look(self.station)
        pass_card(self.pip, self.card, self.pip)
        report_loss(self.wren, self.drives["two"].device, "fell overboard")
        other, _ = self.new_card("A-02", {"x": b"x"})
        hub.insert("A-02", "slot-2")
        look(self.station)
        self.plan.stores.set([self.drives["one"], self.drives["three"]])
        start_offload(self.wren, other, propose(other).tag)
        write_note(self.pip, self.production, NoteOn.CARD, "A-01", "door sticks")
        write_note(self.pip, self.production, NoteOn.DAY, str(self.production.shoot_day(self.now_at())), "fog till ten")
        said = self.now()
        self.assertEqual([kind for kind, _, _ in said], sorted(
            (kind for kind, _, _ in said), key=["wrong", "runs", "waits", "card", "note"].index
        ))  # fmt: skip
        told = {subject: sentence for _, subject, sentence in said}
        self.assertIn("reported lost", told["two"])
        self.assertIn(("waits", "A002", "The offload of A002 waits at 'cart', asked for by Wren."), said)
        self.assertTrue(told["A-01"].startswith("A-01, with Pip. Not clear: "), told["A-01"])
        self.assertTrue(told["A-02"].startswith("A-02, in slot 2. "), told["A-02"])
        self.assertIn("fog till ten (Pip)", str(said))

    @staticmethod
    def now_at():
        from ruggedraft.journal.clock import now

        return now()

    def test_it_is_kept_as_it_stood_and_stays_open_until_somebody_else_takes_it_over(self):
        self.assertEqual(self.hand_over("slot 3 is loose\n\ncall the office at six").status_code, 200)
        before = self.open()
        self.assertEqual(
            [one["sentence"] for one in before][-2:], ["slot 3 is loose", "call the office at six"],
        )  # fmt: skip
        self.assertTrue(before[0]["sentence"].startswith("A-01, in slot 1. "), before[0]["sentence"])
        self.offload()
        self.sign()
        self.assertEqual([one["sentence"] for one in self.open()], [one["sentence"] for one in before])
        ids = [one["id"] for one in before]
        self.assertIn("You handed this over yourself", self.take(ids, self.wren).json()["title"])
        self.assertEqual(self.take(ids[:1]).status_code, 200)
        self.assertEqual([one["id"] for one in self.open()], ids[1:])
        self.assertEqual(self.take(ids).status_code, 200)
        self.assertEqual(self.open(), [])
        (last,) = self.get("shifts")["last"]
        self.assertEqual({one["accepted_by"] for one in last["matters"]}, {"Ned"})
        acts = list(JournalEntry.objects.filter(act__in=["hand over", "take over"]).order_by("id"))
        self.assertEqual([one.person.username for one in acts], ["wren", "ned", "ned"])

    def test_what_nobody_took_over_is_open_beside_the_next_hand_over(self):
        self.hand_over("first")
        self.hand_over("second", self.sol)
        self.assertIn("first", [one["sentence"] for one in self.open()])
        self.assertIn("second", [one["sentence"] for one in self.open()])

    def test_two_who_take_the_same_over_are_not_both_named(self):
        self.hand_over("the radio is flat")
        matter = Matter.objects.latest("pk")
        self.assertEqual(take_over(self.ned, self.production, [matter.pk]), 1)
        self.assertEqual(take_over(self.sol, self.production, [matter.pk]), 0)
        matter.refresh_from_db()
        self.assertEqual(matter.accepted_by, self.ned)

    def test_what_is_not_there_and_too_much_is_refused(self):
        self.hand_over()
        with self.assertRaises(ActRefused):
            take_over(self.ned, self.production, [10**9])
        self.assertEqual(self.take([]).status_code, 409)
        self.assertEqual(self.hand_over("x" * 4001).status_code, 409)
        self.assertEqual(self.hand_over(person=self.pip).status_code, 403)
