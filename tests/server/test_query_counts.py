"""What a screen costs does not grow with the ledger: every GET has a fixed number of queries, at two sizes."""

from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext

from ruggedraft.accounts.acts.make_account import make_account
from ruggedraft.accounts.models import Paper
from ruggedraft.api import api
from ruggedraft.choosing.acts.mark_clip import mark_clip
from ruggedraft.clearing import waterline
from ruggedraft.clearing.models import Clearance
from ruggedraft.core.accounts import AccountOn
from ruggedraft.core.choosing import MarkKind
from ruggedraft.core.sets import medium_named
from ruggedraft.intake.models import Insertion
from ruggedraft.intake.watching import look
from ruggedraft.journal.clock import now
from ruggedraft.returning.models import FolderLook
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.queries import clips_of
from ruggedraft.sets.acts.divide_rolls import divide_rolls
from ruggedraft.sets.models import MediaSet
from ruggedraft.standins import hub

from .world import World, address

MOST = {"waterline": 8, "bench": 17, "tally": 6, "clearing": 7}
"""Besides the three by which a session, its person and their role are known."""
WITHOUT_PRODUCTION = (
    "/api/begin", "/api/session", "/api/session/all", "/api/session/codes", "/api/stations",
    "/api/standins/cards", "/api/standins/drives", "/api/openapi.json",
)  # fmt: skip


class QueryCounts(World, TestCase):
    def test_every_question_costs_the_same_whatever_the_ledger_holds(self):
        self._deliver(self.offload())
        self.sign()
        few = self._counts()
        for n in range(2, 6):
            card, _ = self.new_card(f"A-0{n}", {f"f{i}": bytes([n, i]) for i in range(n)})
            hub.insert(card.label, "slot-2")
            look(self.station)
            self._deliver(self.offload(card))
            hub.remove("slot-2")
            look(self.station)
        many = self._counts()
        self.assertEqual(many, few)
        for path, most in MOST.items():
            self.assertLessEqual(many[path], most, path)

    def test_the_foot_line_is_worked_out_once_for_all_screens(self):
        self.offload()
        self.get("waterline")
        with CaptureQueriesContext(connection) as queries:
            self.get("waterline")
            self.assertLessEqual(len(queries) - 3, 3)

    def test_the_bench_costs_the_same_with_one_card_in_and_with_four(self):
        one = self._count("bench")
        for n in range(2, 5):
            card, _ = self.new_card(f"A-0{n}", {f"f{i}": bytes([n, i]) for i in range(n)})
            hub.insert(card.label, f"slot-{n}")
        look(self.station)
        self.assertEqual(Insertion.objects.filter(removed_at=None).count(), 4)
        self.assertEqual(self._count("bench"), one)

    def _deliver(self, roll: Roll) -> None:
        """With a clip that somebody keeps: what of it may go from a store is told file by file. And onto a disc."""
        sets = MediaSet.objects.count()
        divide_rolls(self.wren, self.production, [roll.tag], medium_named("DVD, 4.7 GB"), into=sets)
        self.post("tally/deliveries", {"tags": [roll.tag], "to": "the client"})
        mark_clip(self.wren, roll, clips_of(roll)[0].path if clips_of(roll) else roll.files.first().path, MarkKind.KEEP)

    def _counts(self) -> dict[str, int]:
        return {path: self._count(path) for path in self._every_question()}

    def _every_question(self) -> list[str]:
        """Of the API's own description, so that none is forgotten."""
        here = "/api/productions/{production}/"
        stay = Insertion.objects.filter(removed_at=None).latest("id")
        cleared = Clearance.objects.earliest("id").pk
        look_into, _ = FolderLook.objects.get_or_create(
            production=self.production, station=self.station, person=self.wren, folder="/x",
            defaults={"asked_at": now(), "finished_at": now()},
        )  # fmt: skip
        account = make_account(self.wren, self.production, AccountOn.ROLL, Roll.objects.earliest("id").tag)
        Paper.objects.get_or_create(edition=account, defaults={"asked_at": now(), "made": True, "content": b"%PDF"})
        said = {
            "on": "roll", "about": account.about, "edition_id": account.pk,
            "tag": Roll.objects.earliest("id").tag, "card_id": self.card.pk, "insertion_id": stay.pk,
            "clearance_id": cleared, "label": self.card.label, "name": "one",
            "number": 1, "day": "2026-05-14", "look_id": look_into.pk,
        }  # fmt: skip
        paths = [path for path, operations in api.get_openapi_schema()["paths"].items() if "get" in operations]
        self.assertLessEqual({path for path in paths if not path.startswith(here)}, set(WITHOUT_PRODUCTION))
        asked = [
            path.removeprefix(here)
            for path in paths
            if path.startswith(here) and not any(one in path for one in ("/preview", "/{kind}", "/pixels"))
        ]
        more = {
            "stores/what-if": "?of=place&name=cart",
            "bench/onward": "?of=everything&store=three",
            "find": "?text=f",
            "room": "?store=one&months=0",
            "stores/comparisons": "?left=one&right=two",
            "stores/comparisons/rows": "?left=one&right=two",
        }
        return [path.format(**said) + more.get(path, "") for path in asked]

    def _count(self, path: str) -> int:
        """The second time, when what depends on facts that did not change is remembered; but the foot line's answer."""
        client = self._same_client(self.wren)
        client.get(address(path), headers={"host": "localhost"})
        if path == "waterline":
            waterline._lately.clear()
        with CaptureQueriesContext(connection) as queries:
            answer = client.get(address(path), headers={"host": "localhost"})
            count = len(queries)
        self.assertEqual(answer.status_code, 200, path)
        return count - 3
