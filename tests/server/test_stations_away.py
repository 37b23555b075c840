"""A card in a reader of a machine that is away is never said to be clear or empty, and may turn up elsewhere."""

import psycopg
from django.db import connection
from django.test import TransactionTestCase

from ruggedraft.clearing.acts.give_card import give_card
from ruggedraft.clearing.cases import case
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import CardStanding
from ruggedraft.crew.models import Membership, Role
from ruggedraft.intake.models import Card, CardListing, Insertion
from ruggedraft.intake.watching import look
from ruggedraft.kit.models import Station
from ruggedraft.productions.acts.change_rule import change_rule
from ruggedraft.productions.acts.open_production import open_production
from ruggedraft.standins import card_maker, hub

from .world import World


class StationsAway(World, TransactionTestCase):
    def joined(self) -> None:
        """The station is one on another machine."""
        Station.objects.filter(pk=self.station.pk).update(role="raft_station_1_test")

    def watched(self) -> psycopg.Connection:
        """Its worker is there: it holds the station's lock."""
        words = connection.settings_dict
        held = psycopg.connect(
            host=words["HOST"], port=words["PORT"], dbname=words["NAME"], user=words["USER"],
            password=words["PASSWORD"], autocommit=True,
        )  # fmt: skip
        self.addCleanup(held.close)
        held.execute("SELECT pg_advisory_lock(%s, %s)", [0x5241, self.station.pk])
        return held

    def stands(self) -> tuple[str, bool]:
        told = self.standing()
        return told["standing"], told["may_go_back"]

    def test_a_cleared_card_there_is_not_clear_while_its_machine_is_away(self):
        for within in (60, None):
            if within is None:
                change_rule(self.sol, self.production, {"listing_within_minutes": None}, "to see")
            self.offload() if within else None
            self.sign()
            self.joined()
            held = self.watched()
            self.assertEqual(self.stands(), ("cleared", True), "while somebody watches it")
            held.close()
            with self.subTest(within=within):
                self.assertEqual(self.stands(), ("not read since", False))
                self.assertIs(case(Card.objects.get(label="A-01")).standing, CardStanding.OLD)
                self.assertIn("nobody knows", self.standing()["sentence"])
            Station.objects.update(role="")

    def test_an_empty_card_there_is_not_empty_while_its_machine_is_away(self):
        self.offload()
        self.sign()
        hub.remove("slot-1")
        look(self.station)
        card_maker.format_card(self.card_folder)
        hub.insert("A-01", "slot-1")
        look(self.station)
        self.assertEqual(self.stands(), ("empty", True))
        self.joined()
        self.assertEqual(self.stands(), ("not read since", False))

    def test_the_card_is_known_again_in_a_reader_here_and_its_stay_there_ends(self):
        there = Insertion.objects.get(card=self.card, removed_at=None)
        here = Station.objects.create(name="cart 2")
        look(here)
        self.assertIsNone(Insertion.objects.get(reader__station=here, removed_at=None).card, "it is there still")
        self.joined()
        hub.remove("slot-1")
        look(here)
        hub.insert("A-01", "slot-2")
        look(here)
        stay = Insertion.objects.get(card=self.card, removed_at=None)
        self.assertEqual(stay.reader.station, here)
        there.refresh_from_db()
        self.assertIsNotNone(there.removed_at)
        self.assertEqual(len(self.get("clearing")["cards"]), 1)

    def test_a_card_of_a_rebuilt_ledger_that_was_never_read_here_stays_in_its_production(self):
        self.offload()
        another = open_production(
            self.sol, self.production, name="Bittern", time_zone="UTC", first_day=self.production.first_day
        )
        Membership.objects.create(person=self.wren, production=another, role=Role.WRANGLER)
        card = Card.objects.create(label="A-77", kind="SD", camera=self.camera)
        give_card(self.wren, card, another.cameras.get(letter="A"))
        give_card(self.wren, Card.objects.get(pk=card.pk), self.camera)
        self.production.rolls.update(card=card)
        self.assertFalse(CardListing.objects.filter(card=card).exists())
        with self.assertRaisesRegex(ActRefused, "is never read in Heron"):
            give_card(self.wren, Card.objects.get(pk=card.pk), another.cameras.get(letter="A"))
