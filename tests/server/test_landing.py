"""A landing area empties itself: a roll leaves it once the stores of its plan hold it, and not before."""

from datetime import UTC, datetime, timedelta
from unittest.mock import patch

from django.test import TestCase

from ruggedraft.core.errors import StoreVanished
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.redundancy import CardStanding
from ruggedraft.core.stores import LocalStore
from ruggedraft.journal import clock
from ruggedraft.journal.models import JournalEntry
from ruggedraft.offloads.acts.ask_feed import ask_feed
from ruggedraft.offloads.feeding import carry_out as run_feed
from ruggedraft.offloads.models import Feed
from ruggedraft.rolls.models import Copy
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.standins import hub
from ruggedraft.stores.acts.sight_stores import sight_stores
from ruggedraft.stores.models import Store
from ruggedraft.upkeep.acts.leave_landing import leave_landing
from ruggedraft.upkeep.keeping_up import keep_up
from ruggedraft.upkeep.landing import copies_on_landing

from .world import World


class Landing(World, TestCase):
    def setUp(self):
        super().setUp()
        Store.objects.filter(name="three").update(landing=True)
        self.plan.stores.set(Store.objects.filter(name__in=("one", "two", "three")))

    def landed(self) -> list[str]:
        there = hub.home() / "drives" / "three"
        return sorted(
            str(one.relative_to(there)) for one in there.rglob("*")
            if one.is_file() and not one.relative_to(there).parts[0].startswith(".raft")
        )  # fmt: skip

    def copy(self) -> Copy:
        (found,) = copies_on_landing(self.station, places_of_all())
        return found

    def leaves(self) -> bool:
        return leave_landing(self.copy())

    def stores_of(self, roll) -> dict[str, bool]:
        (standing,) = roll_standings([roll.pk], in_full=True).values()
        self.assertEqual(roll_standings([roll.pk]), {roll.pk: standing}, "and so say the summaries")
        return {one.store.name: one.facts.whole for one in standing.copies}

    def test_it_leaves_by_itself_once_the_others_hold_it(self):
        roll = self.offload()
        self.look_at_everything()
        self.assertEqual(len(self.landed()), 6)
        self.assertEqual(keep_up(self.station), [])
        self.assertEqual(self.landed(), [], "with the list and the record that lay beside it")
        self.assertEqual(self.stores_of(roll), {"one": True, "two": True})
        self.assertEqual(self.standing()["standing"], CardStanding.CLEARABLE)
        self.assertEqual(
            list(JournalEntry.objects.filter(act="leave landing").order_by("pk").values_list("sentence", flat=True)),
            ["A001 leaves 'three', as the stores of its plan hold it.", "A001 left 'three': 4 files were taken away."],
        )
        self.assertEqual(copies_on_landing(self.station, places_of_all()), [])
        room = {one["store"]: one["held"] for one in self.get("stores/room")}
        self.assertEqual((room["three"], len(room["one"])), ([], 1))
        self.assertEqual([plank["store"] for plank in self.get("tally")["rolls"][0]["planks"]], ["one", "two"])
        read = [one["store"] for one in self.get("tally/rolls/A001")["readings"]]
        self.assertEqual(read, ["three", "three", "two", "one"], "what was read there once is told")

    def test_it_stays_while_anything_speaks_against_it(self):
        roll = self.offload()
        self.look_at_everything()
        broken = self.on_drive("two") / "DCIM/100AAAAA/AAAA0001.JPG"
        broken.write_bytes(b"cut")
        self.look_at_everything()
        self.assertFalse(self.leaves(), "one of its plan's stores holds it no more")
        feed = ask_feed(self.wren, roll, "two")
        self.assertFalse(self.leaves(), "something is being done with it")
        run_feed(feed.pk)
        self.look_at_everything()
        with clock.at(datetime.now(UTC) + timedelta(hours=2)):
            sight_stores(self.station)
            self.assertFalse(self.leaves(), "nobody has looked at the others for long")
        self.drive("four")
        sight_stores(self.station)
        order = {"to": "four", "from_store": "three"}
        self.assertEqual(self.post("upkeep/orders", order, self.sol).status_code, 200)
        self.assertFalse(self.leaves(), "it is still to be brought on from there")
        (run,) = keep_up(self.station)
        self.assertEqual(run.copy.store.name, "four")
        run_feed(run.pk)
        self.assertEqual(len(self.landed()), 6)
        self.assertTrue(self.leaves())

    def test_it_stays_where_the_rule_is_not_met_without_it(self):
        self.plan.stores.set(Store.objects.filter(name__in=("one", "three")))
        self.offload()
        self.look_at_everything()
        self.assertFalse(self.leaves())
        self.plan.stores.set(Store.objects.filter(name="three"))
        self.assertFalse(self.leaves())
        self.assertEqual(len(self.landed()), 6)

    def test_what_somebody_changed_or_put_there_stays(self):
        self.offload()
        home = self.on_drive("three")
        (home / "DCIM/100AAAAA/AAAA0001.JPG").write_bytes(b"graded")
        (home / "notes.txt").write_bytes(b"mine")
        self.look_at_everything()
        self.assertTrue(self.leaves())
        self.assertEqual([one.rpartition("/")[2] for one in self.landed()], ["AAAA0001.JPG", "notes.txt"])
        self.assertIn("2 files that are none of its own stay.", JournalEntry.objects.latest("pk").sentence)

    def test_brought_there_again_it_is_believed_when_it_was_read_again(self):
        roll = self.offload()
        self.look_at_everything()
        self.assertTrue(self.leaves())
        feed = ask_feed(self.wren, roll, "three")
        (standing,) = roll_standings([roll.pk], in_full=True).values()
        back = next(one.facts for one in standing.copies if one.store.name == "three")
        self.assertEqual((back.files, back.level), (0, Evidence.LISTED), "what was read before it left is no evidence")
        run_feed(feed.pk)
        self.assertEqual(self.stores_of(roll), {"one": True, "two": True, "three": True})
        self.assertEqual(len(self.landed()), 6)

    def test_a_landing_area_that_is_none_any_more_loses_nothing(self):
        self.offload()
        self.look_at_everything()
        copy = self.copy()
        Store.objects.filter(name="three").update(landing=False)
        self.assertFalse(leave_landing(copy))
        self.assertEqual(len(self.landed()), 6)

    def test_pulled_in_the_middle_nothing_is_claimed_of_it_and_the_rest_goes_the_next_time(self):
        """Not even if the store is no landing area any more by then: it would count."""
        roll = self.offload()
        self.look_at_everything()
        real, taken = LocalStore.withdraw, []

        def pulled(store, path):
            if taken:
                raise StoreVanished("'three' is not there any more")
            taken.append(path)
            real(store, path)

        with patch.object(LocalStore, "withdraw", pulled):
            self.assertTrue(self.leaves())
        self.assertEqual(len(self.landed()), 5)
        Store.objects.filter(name="three").update(landing=False)
        self.assertEqual(self.stores_of(roll), {"one": True, "two": True}, "half of it was taken away by then")
        Store.objects.filter(name="three").update(landing=True)
        keep_up(self.station)
        self.assertEqual(self.landed(), [])
        keep_up(self.station)
        self.assertEqual(JournalEntry.objects.filter(act="leave landing").count(), 2)

    def test_killed_before_anything_was_taken_away_it_is_taken_away_later(self):
        self.offload()
        self.look_at_everything()
        killed = patch("ruggedraft.upkeep.acts.leave_landing.take_away", side_effect=KeyboardInterrupt)
        with killed, self.assertRaises(KeyboardInterrupt):
            self.leaves()
        self.assertEqual(len(self.landed()), 6)
        keep_up(self.station)
        self.assertEqual(self.landed(), [])

    def test_wanted_there_again_in_the_middle_the_rest_stays(self):
        roll = self.offload()
        self.look_at_everything()
        real = LocalStore.withdraw

        def and_somebody_asks(store, path):
            real(store, path)
            if not Feed.objects.exists():
                ask_feed(self.wren, roll, "three")

        with patch.object(LocalStore, "withdraw", and_somebody_asks):
            self.assertTrue(self.leaves())
        self.assertEqual(len(self.landed()), 5)
        run_feed(Feed.objects.get().pk)
        self.assertEqual(self.stores_of(roll), {"one": True, "two": True, "three": True})
