"""Old listings go; what anything rests on stays, and nothing that is said changes."""

from datetime import timedelta
from unittest.mock import patch

from django.test import TestCase

from ruggedraft.clearing.cases import case
from ruggedraft.core.redundancy import CardStanding
from ruggedraft.intake import thinning
from ruggedraft.intake.models import CardListing, GoneFile, Insertion, ListedEntry
from ruggedraft.intake.thinning import thin_listings
from ruggedraft.intake.watching import look
from ruggedraft.journal.clock import now
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub

from .world import SHOT, World


class Thinning(World, TestCase):
    def setUp(self):
        super().setUp()
        self.offload()
        self.taken = self.card.listings.earliest("id")
        for n in range(12):
            make.add_file(self.card_folder, f"LATER{n:02d}", b"x" * (n + 1), SHOT)
            self.put_in()
        hub.remove("slot-1")
        look(self.station)
        self.later = now() + timedelta(days=8)

    def put_in(self) -> None:
        hub.remove("slot-1")
        look(self.station)
        hub.insert("A-01", "slot-1")
        look(self.station)

    def said(self) -> tuple:
        found = case(self.card)
        return found.standing, [str(block) for block in found.verdict.blocks], GoneFile.objects.count()

    def test_the_newest_and_whatever_is_referred_to_stay_and_all_that_is_said_is_the_same(self):
        listings = list(self.card.listings.order_by("id").values_list("pk", flat=True))
        self.assertEqual(len(listings), 13)
        before = self.said()
        self.assertIs(before[0], CardStanding.BLOCKED)
        self.assertEqual(thin_listings(self.later), 6)
        self.assertEqual(set(self.card.listings.values_list("pk", flat=True)), {self.taken.pk, *listings[-6:]})
        self.assertEqual(set(ListedEntry.objects.values_list("listing", flat=True)), {self.taken.pk, *listings[-6:]})
        self.assertEqual(self.said(), before)
        self.assertEqual(thin_listings(self.later), 0)

    def test_what_is_a_week_old_at_most_stays(self):
        self.assertEqual(thin_listings(now() + timedelta(days=6)), 0)

    def test_nothing_that_a_card_in_a_reader_showed_goes(self):
        stay = self.card.listings.order_by("id")[3].insertion
        Insertion.objects.filter(pk=stay.pk).update(removed_at=None)
        self.assertEqual(thin_listings(self.later), 5)
        self.assertEqual(stay.listings.count(), 1)

    def test_what_has_come_to_be_referred_to_meanwhile_stays(self):
        """The database knows it, whatever was looked up before."""
        with patch.object(thinning, "_refer", return_value=()):
            self.assertEqual(thin_listings(self.later), 6)
        self.assertTrue(CardListing.objects.filter(pk=self.taken.pk).exists())

    def test_so_many_at_a_time_the_oldest_first(self):
        self.assertEqual(thin_listings(self.later, most=2), 2)
        self.assertEqual(CardListing.objects.count(), 11)
        self.assertEqual(thin_listings(self.later, most=20), 4)

    def test_a_file_that_was_missed_keeps_both_listings_that_tell_of_it(self):
        (self.card_folder / "LATER00").unlink()
        self.put_in()
        hub.remove("slot-1")
        look(self.station)
        gone = GoneFile.objects.get()
        for n in range(20, 30):
            make.add_file(self.card_folder, f"LATER{n}", b"x" * (n + 1), SHOT)
            self.put_in()
        hub.remove("slot-1")
        look(self.station)
        before = self.said()
        self.assertGreater(thin_listings(self.later), 10)
        self.assertEqual(CardListing.objects.filter(pk__in=[gone.seen_id, gone.missed_id]).count(), 2)
        self.assertEqual(self.said(), before)
