"""What stores are called, landing areas, read-only copies, and taking stores out of service and in again."""

from django.test import TestCase

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import CardStanding
from ruggedraft.intake.models import Card
from ruggedraft.journal.models import JournalEntry
from ruggedraft.offloads.acts.ask_feed import ask_feed
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.proposal import propose
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.stores.models import Store

from .world import World


class Service(World, TestCase):
    def change(self, store: str, person=None, **more):
        now = next(one for one in self.get("stores") if one["name"] == store)
        given = {"name": store, "landing": now["landing"], "seals": now["seals"]} | more
        return self.post(f"stores/{store}", given, person or self.sol, method="put")

    def retire(self, store: str, person=None, reason: str = "its fan is loud"):
        return self.post(f"stores/{store}/retired", {"reason": reason}, person or self.sol)

    def verdict(self) -> str:
        return self.standing()["standing"]

    def test_out_of_service_nothing_there_counts_and_nothing_goes_there(self):
        roll = self.offload()
        self.assertEqual(self.verdict(), CardStanding.CLEARABLE)
        self.assertEqual(self.retire("two").status_code, 200)
        self.assertEqual(self.verdict(), CardStanding.BLOCKED)
        self.assertEqual(list(self.plan.stores.values_list("name", flat=True)), ["one"])
        self.assertIn("'two' is out of service, and nothing there counts: its fan is loud. It was taken off the plan "
                      "'all' of Heron.", JournalEntry.objects.get(act="retire store").sentence)  # fmt: skip
        self.retire("three")
        with self.assertRaisesRegex(ActRefused, "'three' is out of service"):
            ask_feed(self.wren, roll, "three")
        self.assertEqual(self.post("bench/onward", {"of": "everything", "store": "three"}).status_code, 409)
        self.assertEqual(self.post("upkeep/orders", {"to": "three"}, self.sol).status_code, 409)
        remedies = self.get("tally/rolls/A001")["roll"]["remedy"]
        self.assertEqual([step for step in remedies if step["store"] in ("two", "three")], [])
        self.assertEqual(self.post("stores/two/retired", person=self.sol, method="delete").status_code, 200)
        self.assertEqual(self.verdict(), CardStanding.CLEARABLE, "what it is known to hold counts again")

    def test_an_offload_that_asks_for_it_by_name_is_refused(self):
        self.retire("three")
        card = Card.objects.select_related("camera__production__rule", "camera__plan").get(pk=self.card.pk)
        proposal = propose(card, to=["one", "three"])
        self.assertIn(
            "'three' is out of service: use another store.", [one.sentence for one in proposal.offer.refusals]
        )
        with self.assertRaises(ActRefused):
            start_offload(self.wren, card, proposal.tag, to=["one", "three"])

    def test_a_landing_area_takes_cards_and_never_counts(self):
        self.assertEqual(self.change("three", landing=True).status_code, 200)
        card = Card.objects.select_related("camera__production__rule", "camera__plan").get(pk=self.card.pk)
        proposal = propose(card, to=["three"])
        self.assertEqual(proposal.offer.refusals, ())
        self.assertEqual(
            [one.sentence for one in proposal.offer.short],
            ["A landing area alone, which never counts: the card is not clear before others hold it."],
        )
        self.plan.stores.set(Store.objects.filter(name__in=("one", "three")))
        roll = self.offload()
        (standing,) = roll_standings([roll.pk]).values()
        self.assertTrue(all(one.facts.whole for one in standing.copies))
        self.assertEqual(self.verdict(), CardStanding.BLOCKED, "one copy of two")
        self.change("three", landing=False)
        self.assertEqual(self.verdict(), CardStanding.CLEARABLE)

    def test_a_store_that_counted_and_becomes_a_landing_area_counts_no_more_at_once(self):
        self.offload()
        self.change("two", landing=True)
        self.assertEqual(self.verdict(), CardStanding.BLOCKED)

    def test_another_name_and_read_only_from_now_on(self):
        self.offload()
        self.assertEqual(self.change("two", name="Cart two", seals=True).status_code, 200)
        self.assertEqual(self.verdict(), CardStanding.CLEARABLE)
        self.assertEqual(
            JournalEntry.objects.get(act="change store").sentence,
            "'two' is called 'Cart two' now; what is verified on 'Cart two' is made read-only from now on, says Sol.",
        )
        self.assertTrue(Store.objects.get(name="Cart two").seals)

    def test_what_is_refused(self):
        self.offload()
        for answer, status in (
            (self.change("two", self.wren, name="x"), 403), (self.retire("two", self.wren), 403),
            (self.change("two", name="one"), 409), (self.change("two", name="  "), 409),
            (self.retire("two", reason=" "), 409),
            (self.post("stores/two/retired", person=self.sol, method="delete"), 409),
        ):  # fmt: skip
            self.assertEqual(answer.status_code, status, answer.content)
        self.assertFalse(JournalEntry.objects.filter(act__in=("change store", "retire store")).exists())
        ask_feed(self.wren, self.card.rolls.get(), "three")
        self.assertEqual(self.retire("three").status_code, 409, "something is being done there")
