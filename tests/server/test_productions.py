"""More than one production in a ledger: another is begun, one is closed, and cards go from one to the other."""

from datetime import date

from django.test import TransactionTestCase

from ruggedraft.clearing.acts.give_card import give_card
from ruggedraft.clearing.acts.hand_back import hand_back
from ruggedraft.clearing.cases import case
from ruggedraft.core.errors import ActRefused, NotPermitted
from ruggedraft.core.redundancy import CardStanding
from ruggedraft.crew.models import Membership, Role
from ruggedraft.intake.models import Card
from ruggedraft.intake.watching import look
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.proposal import propose
from ruggedraft.productions.acts.close_production import close_production, open_again
from ruggedraft.productions.acts.open_production import open_production
from ruggedraft.productions.models import Camera, Production
from ruggedraft.productions.queries import productions
from ruggedraft.standins import hub

from .world import World


class Productions(World, TransactionTestCase):
    def another(self, name: str = "Bittern") -> Production:
        return open_production(self.sol, self.production, name=name, time_zone="UTC", first_day=date(2026, 6, 1))

    def fresh(self) -> Card:
        return Card.objects.select_related("camera__production__rule", "camera__plan").get(pk=self.card.pk)

    def test_another_one_begins_with_the_rule_plans_and_cameras_and_no_cards(self):
        made = self.another()
        self.assertEqual(made.rule.as_rule(), self.production.rule.as_rule())
        self.assertNotEqual(made.rule.pk, self.production.rule.pk)
        self.assertEqual([camera.letter for camera in made.cameras.all()], ["A"])
        (plan,) = made.plans.all()
        self.assertEqual({store.name for store in plan.stores.all()}, {"one", "two"})
        self.assertEqual(
            {store.name for store in self.plan.stores.all()}, {"one", "two"}, "and the old one has its own"
        )
        self.assertFalse(Card.objects.filter(camera__production=made).exists())
        self.assertEqual(productions()[0].name, "Bittern")

    def test_bad_names_and_people_who_may_not_change_nothing(self):
        for name in ("", " ", "heron", "x" * 81, "a\nb\x07"):
            with self.subTest(name), self.assertRaises(ActRefused):
                self.another(name)
        for person in (self.wren, self.pip):
            with self.assertRaises(NotPermitted):
                open_production(person, self.production, name="Bittern", time_zone="UTC", first_day=date(2026, 6, 1))
            with self.assertRaises(NotPermitted):
                close_production(person, self.production)
        self.assertEqual(Production.objects.count(), 1)

    def test_a_closed_one_starts_no_offload_and_its_card_stays_as_it_was(self):
        before = case(self.fresh()).standing
        close_production(self.sol, self.production)
        with self.assertRaisesRegex(ActRefused, "is closed"):
            start_offload(self.wren, self.fresh(), propose(self.fresh()).tag)
        self.assertEqual(case(self.fresh()).standing, before)
        with self.assertRaisesRegex(ActRefused, "closed already"):
            close_production(self.sol, self.production)
        open_again(self.sol, self.production)
        self.offload()
        self.assertEqual(case(self.fresh()).standing, CardStanding.CLEARABLE)

    def test_a_closed_one_stands_last_in_the_list(self):
        self.another()
        close_production(self.sol, Production.objects.get(name="Bittern"))
        self.assertEqual([one.name for one in productions()], ["Heron", "Bittern"])

    def test_a_card_goes_to_another_production_only_when_it_owes_nothing(self):
        theirs = Camera.objects.get(production=self.another(), letter="A")
        with self.assertRaisesRegex(NotPermitted, "a production that you are not on the crew of"):
            give_card(self.wren, self.fresh(), theirs)
        Membership.objects.create(person=self.wren, production=theirs.production, role=Role.WRANGLER)
        with self.assertRaisesRegex(ActRefused, "is not offloaded in Heron"):
            give_card(self.wren, self.fresh(), theirs)
        self.offload()
        with self.assertRaisesRegex(ActRefused, "ready to sign"):
            give_card(self.wren, self.fresh(), theirs)
        self.sign()
        with self.assertRaisesRegex(ActRefused, "is cleared in Heron: clear it there and hand it back first"):
            give_card(self.wren, self.fresh(), theirs)
        hub.remove("slot-1")
        look(self.station)
        if case(self.fresh()).standing is not CardStanding.OUT:
            hand_back(self.wren, self.fresh())
        with self.assertRaises(NotPermitted):
            give_card(self.pip, self.fresh(), theirs)
        give_card(self.wren, self.fresh(), theirs)
        self.assertEqual(self.fresh().owner.production.name, "Bittern")
        self.assertEqual(self.production.rolls.get().card, self.card, "its roll stays where it was taken")

    def test_within_a_production_a_card_changes_its_camera_and_its_verdict_stays(self):
        self.offload()
        other = Camera.objects.create(
            production=self.production, letter="B", name="Whelk", kind="cinema", plan=self.plan
        )
        before = case(self.fresh()).standing
        give_card(self.wren, self.fresh(), other)
        self.assertEqual((self.fresh().owner.letter, case(self.fresh()).standing), ("B", before))
        give_card(self.wren, self.fresh(), other)
        lines = self.get("clearing/cards")
        self.assertEqual([(one["label"], one["camera"]) for one in lines], [("A-01", "B")])
