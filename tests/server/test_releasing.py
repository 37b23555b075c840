"""Letting go of cards: when asked, or as a plan says; never while anything reads them; and it says when to pull."""

import os
import subprocess
import tempfile
from pathlib import Path
from unittest import TestCase as PlainTestCase
from unittest import skipIf
from unittest.mock import patch

from django.test import TransactionTestCase

from ruggedraft.clearing import releasing
from ruggedraft.clearing.releasing import let_cards_go
from ruggedraft.intake.acts.read_headers import read_headers
from ruggedraft.intake.models import CardListing, Insertion
from ruggedraft.intake.mounts import MountTable
from ruggedraft.intake.watching import look
from ruggedraft.journal.models import JournalEntry
from ruggedraft.standins import hub

from .deciding import Deciding


class Releasing(Deciding, TransactionTestCase):
    def setUp(self):
        super().setUp()
        releasing._tried.clear()
        self.read_all_headers()

    def read_all_headers(self) -> None:
        for listing in CardListing.objects.all():
            read_headers(listing)

    def ask(self, person=None):
        return self.post(f"bench/cards/{self.card.pk}/release", person=person)

    def go(self) -> list[Insertion]:
        gone = let_cards_go(self.station)
        look(self.station)
        return gone

    def test_a_card_is_let_go_when_asked_and_the_slot_says_that_it_may_be_pulled(self):
        self.assertEqual(self.ask().status_code, 200)
        self.assertTrue(self.slot()["letting_go"])
        self.refused(self.ask(), "already")
        self.assertEqual(len(self.go()), 1)
        self.assertIsNone(next(card for card in hub.cards() if card.label == "A-01").slot)
        slot = self.slot()
        self.assertEqual((slot["released"], slot["insertion_id"]), ("A-01", None))
        self.assertIn("let go of, and may be pulled from", JournalEntry.objects.latest("pk").sentence)
        self.put_in("A-01")
        self.assertEqual((self.slot()["released"], self.slot()["letting_go"]), ("", False))

    def test_not_while_a_run_reads_it(self):
        self.start()
        self.ask()
        self.assertEqual(self.go(), [])
        self.run_all()
        self.assertEqual(len(self.go()), 1)

    def test_not_while_somebody_is_signing_or_headers_are_read(self):
        self.start()
        self.run_all()
        self.read_all_headers()
        self.ask()
        self.post(f"clearing/cards/{self.card.pk}/sign", {"tag": "A001", "digest": self.standing()["digest"]})
        self.assertEqual(self.go(), [])
        self.assertTrue(self.sign().json()["cleared"])
        CardListing.objects.update(headers_read_at=None)
        self.assertEqual(self.go(), [])
        self.read_all_headers()
        self.assertEqual(len(self.go()), 1)
        self.assertEqual(self.standing()["standing"], "handed back")

    def test_a_plan_lets_cards_go_by_itself_after_a_run_that_ended_well(self):
        self.plan.release_after = True
        self.plan.save()
        self.assertEqual(self.go(), [], "nothing ran yet")
        self.start()
        self.run_all()
        self.read_all_headers()
        self.assertEqual(len(self.go()), 1)
        self.assertEqual(self.slot()["released"], "A-01")
        self.put_in("A-01")
        self.read_all_headers()
        self.assertEqual(self.go(), [], "what was done in an earlier stay is no reason")

    def test_a_run_with_trouble_leaves_the_card_in(self):
        self.plan.release_after = True
        self.plan.save()
        with patch.object(hub.PacedSource, "open", side_effect=hub.SourceError("gone")):
            self.start()
            self.run_all()
        self.read_all_headers()
        self.assertEqual(self.go(), [])

    def test_a_system_that_will_not_let_go_says_why_and_the_card_stays(self):
        self.ask()
        with patch.object(hub.FolderHub, "release", lambda hub, path: "umount: target is busy"):
            self.assertEqual(self.go(), [])
        slot = self.slot()
        self.assertEqual((slot["release_trouble"], slot["label"]), ("umount: target is busy", "A-01"))
        self.assertEqual(self.go(), [], "it is not tried at every look")
        releasing._tried.clear()
        self.assertEqual(len(self.go()), 1)

    def test_it_takes_a_role_and_a_reader(self):
        self.assertEqual(self.ask(self.pip).status_code, 403)
        hub.remove("slot-1")
        look(self.station)
        self.refused(self.ask(), "in no reader")


@skipIf(os.geteuid() != 0, "mounting takes root")
class MountedCards(PlainTestCase):
    """A real file system, mounted and let go of by the system's own means."""

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.card = Path(folder.name, "card")
        self.card.mkdir()
        subprocess.run(["mount", "-t", "tmpfs", "card", str(self.card)], check=True)
        self.addCleanup(subprocess.run, ["umount", "-l", str(self.card)], check=False, capture_output=True)

    def test_it_is_unmounted(self):
        self.assertEqual(MountTable().release(str(self.card)), "")
        self.assertFalse(self.card.is_mount())

    def test_one_that_somebody_reads_stays_and_the_system_s_words_are_told(self):
        with (self.card / "file").open("w"):
            self.assertIn("busy", MountTable().release(str(self.card)))
            self.assertTrue(self.card.is_mount())

    def test_what_is_not_mounted_any_more_may_be_pulled(self):
        self.assertEqual(MountTable().release("/nowhere"), "")
