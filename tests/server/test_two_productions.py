"""Two productions in one ledger: whoever is not on a crew sees, does and reaches nothing of it."""

import json
from datetime import date

from ruggedraft.core.errors import ActRefused, NotPermitted
from ruggedraft.core.runs import RunEnd
from ruggedraft.crew.acts.change_person import give_role
from ruggedraft.crew.models import Membership, Person, Role
from ruggedraft.crew.permissions import May, require, require_everywhere
from ruggedraft.intake.models import Card
from ruggedraft.intake.watching import look
from ruggedraft.journal.models import JournalEntry
from ruggedraft.kit.acts.make_ticket import make_ticket
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Camera, Plan, Production, RedundancyRule
from ruggedraft.rolls.acts.move_device import move_device
from ruggedraft.rolls.acts.report_loss import report_loss
from ruggedraft.rolls.models import Roll
from ruggedraft.standins import hub
from ruggedraft.stores.acts.share_store import share_store

from .operations import SHARED, EveryOperation


class TwoProductions(EveryOperation):
    def setUp(self):
        super().setUp()
        self.other = Production.objects.create(name="Bittern", first_day=date(2026, 5, 14))
        RedundancyRule.objects.create(production=self.other)
        plan = Plan.objects.create(production=self.other, name="theirs")
        Camera.objects.create(production=self.other, letter="Z", name="Whelk", kind="cinema", plan=plan)
        self.mara = Person.objects.create_user(username="mara", password="mara-password")
        Membership.objects.create(person=self.mara, production=self.other, role=Role.SUPERVISOR)

    def test_nobody_sees_or_does_anything_in_a_production_they_are_not_of(self):
        """It is as if there was none of this name."""
        for what in sorted(self.operations):
            with self.subTest(what):
                self.assertEqual(self.ask(what, self.mara).status_code, 404)
                self.assertEqual(self.ask(what, self.sol, "bittern").status_code, 404)

    def test_through_ones_own_production_nothing_of_another_is_reached(self):
        before = JournalEntry.objects.count()
        named = [what for what in sorted(self.operations) if "{" in what and what not in SHARED and "{day}" not in what]
        self.assertGreater(len(named), 50)
        for what in named:
            with self.subTest(what):
                answer = self.ask(what, self.mara, "bittern")
                self.assertIn(answer.status_code, (404, 409), answer.content[:200])
                if answer.status_code == 409:
                    self.assertRegex(answer.json()["title"], "There is no|You work with nobody")
        self.assertEqual(JournalEntry.objects.count(), before)

    def test_a_day_holds_nothing_of_another_productions_day(self):
        for what in (one for one in sorted(self.operations) if "{day}" in one):
            answer = self.ask(what, self.mara, "bittern")
            self.assertEqual(answer.status_code, 200)
            self.assertNotIn(self.words["tag"].encode(), answer.content, what)

    def test_what_a_body_names_of_another_production_is_refused_too(self):
        tag, label = self.words["tag"], self.card.label
        said = {
            "clearing/holds": [{"on": "roll", "name": tag, "reason": "x"}, {"on": "card", "name": label, "reason": "x"},
                               {"on": "camera", "name": "A", "reason": "x"}],
            "tally/deliveries": [{"tags": [tag], "to": "somebody"}],
            "bench/onward": [{"of": "everything", "which": "", "store": "one"}],
            "stores/comparisons": [{"left": "", "right": "one"}, {"left": "one", "right": "two"}],
            "upkeep/orders": [{"to": "one", "from_store": "two"}],
        }  # fmt: skip
        before = JournalEntry.objects.count()
        for path, bodies in said.items():
            for body in bodies:
                with self.subTest(path, body=body):
                    answer = self.post(f"../bittern/{path}", body, self.mara)
                    self.assertIn(answer.status_code, (404, 409), answer.content[:200])
        self.assertEqual(JournalEntry.objects.count(), before)

    def test_lists_hold_nothing_of_another_production(self):
        for path in ("tally", "clearing", "clearing/cards", "cards", "stores", "stores/room", "upkeep", "people",
                     "setup", "bench/queue", "waterline", "log", "bench"):  # fmt: skip
            said = json.dumps(self.get(f"../bittern/{path}", self.mara))
            for theirs in (self.words["tag"], "Heron", "Halyard", "wren", '"one"'):
                with self.subTest(path, theirs=theirs):
                    self.assertNotIn(theirs, said)

    def test_anothers_card_in_the_reader_hides_no_alarm_of_ones_own(self):
        """One of ours was taken out in the middle; now somebody else's card lies where it was."""
        hub.remove("slot-1")
        look(self.station)
        Offload.objects.filter(card=self.card).update(end=RunEnd.PULLED)
        theirs, _ = self.new_card("Z-01", {"x": b"x"})
        Card.objects.filter(pk=theirs.pk).update(camera=Camera.objects.get(letter="Z"))
        hub.insert("Z-01", "slot-1")
        look(self.station)
        slot = self.get("bench")["slots"][0]
        self.assertEqual((slot["label"], slot["elsewhere"]), ("Z-01", True))
        self.assertEqual(slot["pulled"]["label"], "A-01")

    def test_a_shared_queue_says_when_and_not_what_of_another_production(self):
        roll = Roll.objects.get(tag=self.words["tag"])
        Offload.objects.filter(roll=roll).update(finished_at=None, started_at=None)
        (told,) = self.get("../bittern/bench/queue", self.mara)
        (run,) = told["runs"]
        self.assertEqual((run["tag"], run["label"], run["camera"]), ("", "", None))
        self.assertEqual(self.get("bench/queue")[0]["runs"][0]["tag"], roll.tag)
        said = {"ids": [run["id"]]}
        self.assertEqual(self.post("../bittern/bench/queue/cart", said, self.mara, "put").status_code, 403)

    def test_what_is_shared_takes_somebody_who_may_in_both(self):
        drive = self.drives["one"]
        with self.assertRaisesRegex(NotPermitted, "a production that you are not on the crew of"):
            share_store(self.sol, drive, self.other.pk, "Bittern")
        Membership.objects.create(person=self.sol, production=self.other, role=Role.LEAD)
        share_store(self.sol, drive, self.other.pk, "Bittern")
        self.assertEqual([one["name"] for one in self.get("../bittern/stores", self.mara)], ["one"])
        with self.assertRaises(NotPermitted):
            move_device(self.mara, drive.device, "office", offsite=True)
        self.assertEqual(self.post("../bittern/stores/one/retired", {"reason": "x"}, self.mara).status_code, 403)
        report_loss(self.mara, drive.device, "fell overboard")  # which can only make verdicts stricter
        move_device(self.sol, self.drives["two"].device, "office", offsite=True)

    def test_what_concerns_the_whole_ledger_takes_somebody_who_may_in_all_that_is_open(self):
        for person in (self.sol, self.mara):
            with self.assertRaises(NotPermitted):
                make_ticket(person)
        Membership.objects.create(person=self.sol, production=self.other, role=Role.SUPERVISOR)
        require_everywhere(self.sol, May.SET_UP)
        with self.assertRaises(NotPermitted):
            require_everywhere(self.mara, May.SET_UP)
        Production.objects.filter(pk=self.production.pk).update(closed_at="2026-06-01T00:00Z")
        require_everywhere(self.mara, May.SET_UP)

    def test_nobody_takes_over_the_account_of_somebody_with_more_roles(self):
        """A link for a new password would let a supervisor of one production act in the other."""
        Membership.objects.create(person=self.wren, production=self.other, role=Role.ASSISTANT)
        self.assertEqual(self.post(f"people/{self.wren.pk}/password-link", {}, self.sol).status_code, 403)
        self.assertEqual(self.post(f"people/{self.pip.pk}/password-link", {}, self.sol).status_code, 200)

    def test_somebody_is_on_two_crews_in_two_roles_and_leaves_one(self):
        secret = self.post("../bittern/people/invitations", {"role": "assistant"}, self.mara).json()["secret"]
        mine = self.post("session/link/mine", {"secret": secret}, self.wren).json()["productions"]
        self.assertEqual(
            {one["slug"]: one["role"] for one in mine}, {"heron": "wrangler", "bittern": "camera assistant"}
        )
        require(self.wren, May.SIGN, self.production.pk)
        with self.assertRaises(NotPermitted):
            require(self.wren, May.SIGN, self.other.pk)
        self.assertEqual(self.post(f"../bittern/people/{self.wren.pk}", {}, self.mara, "delete").status_code, 200)
        self.assertEqual(self.ask("GET bench", self.wren, "bittern").status_code, 404)
        self.assertEqual(self.ask("GET bench", self.wren).status_code, 200)

    def test_only_somebody_one_works_with_is_taken_on_without_a_link(self):
        with self.assertRaisesRegex(ActRefused, "You work with nobody of this name"):
            give_role(self.mara, self.pip, "wrangler", self.other.pk)
        Membership.objects.create(person=self.mara, production=self.production, role=Role.CLIENT)
        known = [one["name"] for one in self.get("../bittern/people", self.mara)["known"]]
        self.assertIn("Pip", known)
        give_role(self.mara, self.pip, "wrangler", self.other.pk)
        self.assertEqual(Membership.objects.get(person=self.pip, production=self.other).role, Role.WRANGLER)
        self.assertTrue(Roll.objects.exists())
