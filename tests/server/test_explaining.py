"""`explain` says of a card what the screens say, each word from the facts."""

import io

from django.core.management import CommandError, call_command
from django.test import TransactionTestCase

from ruggedraft.clearing.cases import case
from ruggedraft.intake.models import Card
from ruggedraft.rolls.acts.report_loss import report_loss
from ruggedraft.stores.models import Store

from .world import World


class Explaining(World, TransactionTestCase):
    def said(self, label: str = "a-01") -> str:
        call_command("explain", label, stdout=(out := io.StringIO()))
        return out.getvalue()

    def stands(self) -> str:
        return str(case(Card.objects.get(label="A-01")).standing)

    def test_before_and_after_an_offload_and_a_signature(self):
        self.assertIn(f"A-01: {self.stands()}", self.said())
        self.assertNotIn("roll A001", self.said())
        self.offload()
        told = self.said()
        self.assertIn(f"A-01: {self.stands()}", told)
        self.assertIn("rule: 2 copies on 2 devices", told)
        self.assertEqual(told.count("; counts"), 2)
        self.assertIn("read back", told)
        self.assertNotIn("last cleared", told)
        self.sign()
        self.assertIn("A-01: cleared", self.said())
        self.assertIn("last cleared", self.said())

    def test_a_lost_drive_speaks_against_it(self):
        self.offload()
        report_loss(self.wren, Store.objects.get(name="two").device, "fell into the water")
        told = self.said()
        self.assertIn(f"A-01: {self.stands()}", told)
        self.assertIn("against it: ", told)
        self.assertEqual((told.count("; counts"), told.count("; does not count")), (1, 1))

    def test_a_card_that_is_not_there_is_said_not_to_be(self):
        with self.assertRaisesRegex(CommandError, "no card Z-99"):
            self.said("Z-99")
