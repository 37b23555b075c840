"""A day's account: its figures are the ledger's and the disk's; frozen at a hand-over, what came later marked."""

import csv
import io
import json
import wave
from datetime import UTC, date, datetime, timedelta
from unittest import TestCase as PlainTestCase
from zoneinfo import ZoneInfo

from django.conf import settings
from django.test import TestCase

from ruggedraft.core.accounts import DayAccount
from ruggedraft.days.models import FrozenDay
from ruggedraft.days.queries import ACCOUNT, digest_of
from ruggedraft.intake.acts.read_headers import read_headers
from ruggedraft.intake.models import CardListing
from ruggedraft.intake.watching import look
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.productions.models import Production
from ruggedraft.rolls.acts.report_loss import report_loss
from ruggedraft.standins import hub

from .test_labels import words_on
from .world import FILES, World, address

DAY = "2026-05-14"
HOST = {"host": "localhost"}


def sound(seconds: float) -> bytes:
    """A WAV file as Python's own library writes it: mono, 16 bits, 8 kHz."""
    made = io.BytesIO()
    with wave.open(made, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(8000)
        file.writeframes(b"\0\0" * int(seconds * 8000))
    return made.getvalue()


class Days(World, TestCase):
    def account(self, day: str = DAY, edition: int | None = None, person=None) -> dict:
        return self.get(f"days/{day}" + (f"?edition={edition}" if edition else ""), person)

    def file(self, kind: str, day: str = DAY, edition: int | None = None) -> bytes:
        path = f"days/{day}/account.{kind}" + (f"?edition={edition}" if edition else "")
        answer = self._same_client(self.wren).get(address(path), headers=HOST)
        self.assertEqual(answer.status_code, 200, answer.content[:200])
        return answer.content

    def today(self) -> str:
        return self.production.shoot_day(now()).isoformat()

    def second_card(self):
        card, _ = self.new_card("A-02", {"SOUND/T01.WAV": sound(12.5), "SOUND/T02.WAV": sound(3.25)})
        hub.insert("A-02", "slot-2")
        look(self.station)
        read_headers(CardListing.objects.filter(card=card).latest("id"))
        return card

    def test_its_figures_are_the_ledgers_and_the_disks(self):
        self.offload()
        self.offload(self.second_card())
        told = self.account()["account"]
        self.assertEqual((told["number"], told["day"], told["production"]), (1, DAY, "Heron"))
        on_disk = {}
        for store in ("one", "two"):
            for tag in ("A001", "A002"):
                found = [one for one in self.on_drive(store, tag).rglob("*") if one.is_file()]
                on_disk[store, tag] = len(found), sum(one.stat().st_size for one in found)
        for roll in told["rolls"]:
            self.assertEqual(roll["state"], "safe")
            figures = roll["material"]["files"], roll["material"]["bytes"]
            for copy in roll["copies"]:
                self.assertEqual(copy["state"], "verified")
                self.assertEqual(on_disk[copy["store"], roll["tag"]], figures)
        first, second = told["rolls"]
        self.assertEqual(first["material"]["bytes"], sum(map(len, FILES.values())))
        self.assertEqual((second["material"]["seconds"], second["material"]["untold"]), (15.75, 0))
        self.assertEqual(told["material"]["seconds"], 15.75)
        self.assertEqual(told["material"]["files"], len(FILES) + 2)
        (camera,) = told["cameras"]
        self.assertEqual((camera["letter"], camera["rolls"]), ("A", 2))

    def test_what_the_paper_says_is_what_the_data_says(self):
        self.offload()
        self.offload(self.second_card())
        self.sign()
        told = json.loads(self.file("json"))
        paper = " ".join(words_on(self.file("pdf")).split())
        self.assertIn(f"Heron, day 1, {DAY}", paper)
        self.assertIn("0:00:15", paper)
        for roll in told["rolls"]:
            self.assertIn(roll["tag"], paper)
        self.assertIn("2 verified: one, two", paper)
        rows = list(csv.DictReader(io.StringIO(self.file("csv").decode("utf-8-sig"))))
        self.assertEqual([row["roll"] for row in rows], ["A001", "A002"])
        self.assertEqual(sum(int(row["bytes"]) for row in rows), told["material"]["bytes"])
        self.assertEqual([row["verified_copies"] for row in rows], ["2", "2"])
        (clearance,) = json.loads(self.file("json", self.today()))["clearances"]
        self.assertEqual((clearance["card"], clearance["signers"]), ("A-01", ["Wren"]))
        self.assertIn("A-01", words_on(self.file("pdf", self.today())))

    def test_the_ribbon_and_the_days_beside_each_other(self):
        self.offload()
        self.offload(self.second_card())
        (first, second) = self.account()["account"]["rolls"]
        self.assertEqual((second["tag"], [bar["length"] for bar in second["bars"]]), ("A002", [12.5, 3.25]))
        self.assertEqual(len(first["bars"]), 2, "two pictures; what is no clip has no bar")
        (only,) = self.get("days")
        self.assertEqual((only["day"], only["rolls"], only["unsafe"], only["clearances"]), (DAY, 2, 0, 0))
        self.assertEqual(only["material"], self.account()["account"]["material"])
        self.sign()
        newest, oldest = self.get("days")
        self.assertEqual((newest["day"], newest["rolls"], newest["clearances"]), (self.today(), 0, 1))
        self.assertEqual(oldest["day"], DAY)

    def frozen(self) -> FrozenDay:
        """A hand-over keeps the account of the day that it is; rolls here are of another, so that it is said."""
        Production.objects.filter(pk=self.production.pk).update(first_day=now().date() - timedelta(days=3))
        self.assertEqual(self.post("shifts", {"words": ""}).status_code, 200)
        return FrozenDay.objects.latest("pk")

    def test_a_hand_over_freezes_the_day_and_what_comes_later_is_marked(self):
        self.offload()
        roll = self.card.rolls.get()
        roll.shoot_day = self.today()
        roll.save()
        kept = self.frozen()
        before = self.file("json", self.today(), kept.pk)
        (edition,) = self.account(self.today())["editions"]
        self.assertEqual((edition["id"], edition["by"]), (kept.pk, "Wren"))
        self.assertFalse(self.account(self.today())["account"]["rolls"][0]["later"])
        self.sign()
        other = self.offload(self.second_card())
        other.shoot_day = self.today()
        other.save()
        report_loss(self.wren, self.drives["two"].device, "fell overboard")
        told = self.account(self.today())["account"]
        first, second = told["rolls"]
        self.assertEqual((first["later"], first["was"]), (False, "safe; 'two' verified"))
        self.assertEqual((first["state"], second["later"]), ("below the line", True))
        self.assertEqual([one["later"] for one in told["clearances"]], [True])
        self.assertEqual([one["later"] for one in told["runs"]], [False, True])
        self.assertEqual([one["later"] for one in told["troubles"]], [True])
        paper = " ".join(words_on(self.file("pdf", self.today())).split())
        self.assertIn("At the hand-over: safe; 'two' verified", paper)
        self.assertEqual(self.file("json", self.today(), kept.pk), before, "the frozen account stays as it was")
        self.assertIn("As it was when Wren handed over", words_on(self.file("pdf", self.today(), kept.pk)))

    def test_a_night_shift_hands_over_the_day_that_ended_and_no_earlier_one_again(self):
        self.offload()
        self.frozen()
        self.assertEqual([one.day.isoformat() for one in FrozenDay.objects.order_by("pk")], [DAY, self.today()])
        (edition,) = self.account()["editions"]
        self.assertTrue(self.account(edition=edition["id"])["sealed"])
        self.assertEqual(self.account(edition=edition["id"])["account"]["rolls"][0]["bars"],
                         self.account()["account"]["rolls"][0]["bars"])  # fmt: skip
        self.frozen()
        self.assertEqual([one.day.isoformat() for one in FrozenDay.objects.order_by("pk")][2:], [self.today()])

    def test_what_an_earlier_version_froze_is_sealed_as_it_said_then(self):
        self.offload()
        self.frozen()
        kept = FrozenDay.objects.get(day=DAY)
        older = FrozenDay.objects.create(
            production=self.production, day=kept.day, at=kept.at, by=kept.by, account=f" {kept.account}"
        )
        self.assertFalse(self.account(edition=older.pk)["sealed"])
        write("hand over", "Heron", "As it was written when one day was kept.", person=self.wren,
              production=self.production.pk, detail={"account": digest_of(older)})  # fmt: skip
        self.assertTrue(self.account(edition=older.pk)["sealed"])

    def test_another_rendering_of_a_roll_adds_no_length(self):
        self.offload()
        second = self.offload(self.second_card())
        self.assertEqual(self.account()["account"]["material"]["seconds"], 15.75)
        second.double_of = self.card.rolls.get()
        second.save()
        told = self.account()["account"]
        self.assertEqual((told["material"]["seconds"], told["material"]["files"]), (0, len(FILES) + 2))

    def test_a_clearance_that_is_taken_back_after_the_hand_over_is_told(self):
        self.offload()
        self.sign()
        self.frozen()
        said = {"reason": "the office found a hole"}
        answer = self.post(f"clearing/cards/{self.card.pk}/revoke", said, self.wren)
        self.assertEqual(answer.status_code, 200, answer.content)
        (told,) = self.account(self.today())["account"]["clearances"]
        self.assertEqual((told["later"], told["revoked_later"]), (False, True))
        self.assertEqual(told["revoked"], "Wren, the office found a hole")

    def test_a_frozen_account_that_somebody_rewrote_says_so(self):
        self.offload()
        kept = self.frozen()
        self.assertTrue(self.account(self.today(), kept.pk)["sealed"])
        FrozenDay.objects.filter(pk=kept.pk).update(account=kept.account.replace("Heron", "Stork"))
        self.assertFalse(self.account(self.today(), kept.pk)["sealed"])
        self.assertIn("It was changed since", words_on(self.file("pdf", self.today(), kept.pk)))

    def test_what_is_open_is_said_and_an_edition_of_another_day_is_not_there(self):
        self.plan.stores.set([self.drives["one"]])
        self.offload()
        told = self.account()["account"]
        self.assertEqual({one["subject"] for one in told["open"]}, {"A001", "A-01"})
        self.assertIn("A001 is short of its rule", str(told["open"]))
        unread = self.new_card("A-03", {"C1.MP4": b"never read"})[0]
        hub.insert("A-03", "slot-3")
        look(self.station)
        self.assertIn(unread.label, {one["subject"] for one in self.account()["account"]["open"]}, "it was shot then")
        self.assertIn(unread.label, {one["subject"] for one in self.account(self.today())["account"]["open"]})
        self.assertNotIn(unread.label, str(self.account("2026-05-13")["account"]["open"]))
        kept = self.frozen()
        answer = self._same_client(self.wren).get(address(f"days/{DAY}?edition={kept.pk}"), headers=HOST)
        self.assertEqual(answer.status_code, 404)
        self.assertEqual(self.account("2001-01-01")["account"]["rolls"], [], "a day of which there is nothing is empty")

    def test_the_schema_in_the_docs_is_the_accounts(self):
        said = json.loads((settings.ROOT / "docs" / "day-account.schema.json").read_text())
        self.assertEqual(said, ACCOUNT.json_schema(mode="serialization"))
        self.assertIsInstance(ACCOUNT.validate_json(self.file("json")), DayAccount)


class ShootDays(PlainTestCase):
    def test_every_moment_is_within_its_own_shoot_day(self):
        """Also where clocks are put forward and back: each hour of a year, in zones that do it differently."""
        for zone in ("UTC", "Europe/Berlin", "America/New_York", "Australia/Lord_Howe", "Pacific/Apia"):
            here = Production(time_zone=zone, first_day=date(2026, 1, 1), day_starts_at=4)
            for hour in range(0, 366 * 24):
                moment = datetime(2026, 1, 1, tzinfo=UTC) + timedelta(hours=hour)
                begins, ends = here.span_of(here.shoot_day(moment))
                self.assertTrue(begins <= moment < ends, f"{zone} {moment}")
                self.assertEqual(begins.astimezone(ZoneInfo(zone)).hour, 4)
