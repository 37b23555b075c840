"""A roll that is brought to a folder as a bag (RFC 8493): validated by others, and never called one that it is not."""

from pathlib import Path
from unittest.mock import patch

import bagit
from django.test import TestCase

from ruggedraft.core.manifests import verify_bag
from ruggedraft.returning import bags, running
from ruggedraft.returning.models import Return
from ruggedraft.rolls.models import RollFile
from ruggedraft.standins.drives import make_drive

from .working import ONE, Working


class Bags(Working, TestCase):
    def as_bag(self, name: str = "bags") -> tuple[Return, Path]:
        place = self.base / name
        if not place.exists():
            make_drive(place, identity=name, capacity=10**9)
        said = {"station": "cart", "folder": str(place), "tags": ["A001"], "bag": True}
        self.assertEqual(self.post("returns/restores", said).status_code, 200)
        return self.carried_out(), place / "A001"

    def test_a_roll_becomes_a_bag_that_others_validate(self):
        """By the Library of Congress' reference library, and by ours."""
        RollFile.objects.filter(path__startswith="line").update(checksum="")  # its name is no text
        run, bag = self.as_bag()
        self.assertEqual(run.end, "well", run.outcome)
        self.assertIn("It is a bag (BagIt, SHA-256)", run.outcome)
        self.assertTrue(bagit.Bag(str(bag)).validate())
        self.assertTrue(verify_bag(bag).verified)
        self.assertIn("External-Identifier: A001", (bag / "bag-info.txt").read_text())
        self.assertTrue(self.is_as_on_card(ONE, bag / "data" / ONE))
        run, _ = self.as_bag()
        self.assertEqual(run.end, "well", "what stands there already is the same")
        (bag / "bagit.txt").write_text("of somebody else")
        run, _ = self.as_bag()
        self.assertEqual((run.end, (bag / "bagit.txt").read_text()), ("trouble", "of somebody else"))
        self.assertIn("It is no bag: A001/bagit.txt stands there already", run.outcome)

    def test_what_cannot_be_a_bag_is_brought_and_said_to_be_none(self):
        run, bag = self.as_bag()
        self.assertEqual(run.end, "trouble")
        self.assertIn("is no text, as names in a bag have to be", run.outcome)
        self.assertTrue(self.is_as_on_card(ONE, bag / "data" / ONE))
        self.assertFalse((bag / "bagit.txt").exists())
        refused = self.post("returns/restores", {"station": "cart", "folder": "/media/x", "tags": ["A001"], "clip": ONE,
                                                 "bag": True})  # fmt: skip
        self.assertEqual(refused.status_code, 409)

    def test_one_that_is_cancelled_once_all_is_there_is_said_to_be_no_bag(self):
        RollFile.objects.filter(path__startswith="line").update(checksum="")
        real, over = running._bring, []

        def bring(*words):
            real(*words)
            over.append(True)

        with (
            patch.object(running, "_bring", bring),
            patch.object(running.Watch, "cancelled", lambda watch: bool(over)),
        ):
            run, bag = self.as_bag()
        self.assertIn("It is no bag: it was stopped before.", run.outcome)
        self.assertFalse((bag / "bagit.txt").exists())
        self.assertTrue(self.is_as_on_card(ONE, bag / "data" / ONE))

    def test_what_rots_before_the_bag_is_made_is_in_none(self):
        RollFile.objects.filter(path__startswith="line").update(checksum="")
        real = bags._sha256

        def rotten(folder, path, file, watch):
            if path.endswith(ONE):
                (self.base / "bags" / path).write_bytes(b"rot")
            return real(folder, path, file, watch)

        with patch.object(bags, "_sha256", rotten):
            run, bag = self.as_bag()
        self.assertIn("was not read as it was taken when its bag was made", run.outcome)
        self.assertEqual((run.end, (bag / "manifest-sha256.txt").exists()), ("trouble", False))
