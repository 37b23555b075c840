"""How it goes, from the ledger of a production."""

from datetime import timedelta

from django.test import TestCase

from ruggedraft.crew.models import Membership, Person
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Production, RedundancyRule
from ruggedraft.rolls.acts.report_loss import report_loss
from ruggedraft.standins import hub

from .world import World


class HowItGoes(World, TestCase):
    def trends(self) -> dict:
        return self.get("trends")

    def test_nothing_is_said_before_anything_was_offloaded(self):
        told = self.trends()
        self.assertEqual((told["rates"], told["times"], told["ages"], told["waiting"]), ([], [], [], None))

    def test_a_card_waits_from_its_roll_until_it_is_cleared(self):
        self.offload()
        told = self.trends()
        self.assertEqual([one["cards"] for one in told["waiting"]["steps"]][-1], 1)
        self.assertEqual(told["times"], [])
        self.assertEqual(sum(one["copies"] for one in told["ages"]), 2)
        self.assertEqual([one["copies"] for one in told["ages"] if one["days"] == 1], [2])
        self.assertEqual(self.sign().status_code, 200)
        told = self.trends()
        self.assertEqual([one["cards"] for one in told["waiting"]["steps"]][-1], 0)
        (one,) = told["times"]
        stay = self.card.insertions.get()
        self.assertEqual(one["card"], "A-01")
        self.assertEqual(one["came_at"][:19], stay.inserted_at.isoformat()[:19])
        report_loss(self.wren, self.drives["two"].device, "fell overboard")
        self.assertEqual(sum(one["copies"] for one in self.trends()["ages"]), 1, "what is lost is read by nobody")

    def test_a_clearance_that_was_taken_back_frees_no_card(self):
        self.offload()
        self.sign()
        self.post(f"clearing/cards/{self.card.pk}/revoke", {"reason": "a drive is gone"})
        told = self.trends()
        self.assertEqual((told["times"], told["waiting"]["steps"][-1]["cards"]), ([], 1))
        self.assertEqual(self.sign().status_code, 200)
        (one,) = self.trends()["times"]
        came = self.card.insertions.get().inserted_at
        self.assertEqual(one["came_at"][:19], came.isoformat()[:19], "it was away all that time")

    def test_what_was_foretold_of_a_run_is_held_against_what_it_took(self):
        self.assertIsNone(self.trends()["foretold"])
        self.offload()
        run = Offload.objects.get()
        Offload.objects.update(estimated_s=(run.finished_at - run.started_at).total_seconds() + 30)
        told = self.trends()["foretold"]
        self.assertEqual([one["roll"] for one in told["runs"]], ["A001"])
        self.assertEqual((round(told["median_s"], 3), round(told["most_s"], 3)), (30, 30))
        Offload.objects.update(end="trouble")
        self.assertIsNone(self.trends()["foretold"], "what went wrong tells nothing of how long it takes")

    def test_no_more_cards_wait_than_there_are(self):
        self.offload()
        hub.remove("slot-1")
        look(self.station)
        answer = self.post(f"clearing/cards/{self.card.pk}/aside", {"kind": "lost", "reason": "fell overboard"})
        self.assertEqual(answer.status_code, 200, answer.content)
        told = self.trends()["waiting"]
        self.assertEqual((told["cards"], told["steps"][-1]["cards"]), (0, 0))

    def test_a_part_that_came_to_less_again_and_again_is_named(self):
        roll = self.offload()
        done = Offload.objects.get()
        for seconds in (1, 1, 1, 1, 9, 9, 9):
            began = clock.now() - timedelta(hours=1)
            Offload.objects.create(
                kind="offload", queue="cards", subject=f"{seconds}", roll=roll, station=done.station, person=self.wren,
                asked_at=began, started_at=began, finished_at=began + timedelta(seconds=seconds), end="well",
                card=self.card, reader=done.reader, read_bytes=90_000_000, algorithm="xxh128",
            )  # fmt: skip
        told = {one["name"]: one for one in self.trends()["rates"]}
        self.assertEqual({name for name, one in told.items() if one["slow"]}, {"slot 1, cart", "one", "two"})
        self.assertEqual([round(run["rate"] / 1e6) for run in told["one"]["runs"][-4:]], [90, 10, 10, 10])

    def test_nothing_of_another_production_is_in_it(self):
        self.offload()
        other = Production.objects.create(name="Bittern", first_day=self.production.first_day)
        RedundancyRule.objects.create(production=other)
        self.drives["one"].productions.add(other)
        mara = Person.objects.create_user(username="mara", password="mara-password")
        Membership.objects.create(person=mara, production=other, role="supervisor")
        told = self.get("../bittern/trends", mara)
        self.assertEqual((told["rates"], told["times"], told["ages"], told["waiting"]), ([], [], [], None))
