"""Who may do what: every operation of the API's own description, in every role, in one's own production and another."""

import json
from datetime import date
from pathlib import Path
from typing import Any
from unittest.mock import patch

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.test import TestCase

from ruggedraft.api import api
from ruggedraft.checks.acts.ask_check import ask_check
from ruggedraft.clearing.acts.holds import place_hold
from ruggedraft.clearing.models import Clearance
from ruggedraft.core.errors import ActRefused, NotPermitted
from ruggedraft.core.runs import RunEnd
from ruggedraft.crew.acts.change_person import give_role
from ruggedraft.crew.acts.shared_screen import make_screen
from ruggedraft.crew.models import Membership, Person, Role, SharedScreen
from ruggedraft.crew.permissions import MAY, May, require, require_everywhere
from ruggedraft.footage.models import Media
from ruggedraft.intake.models import Card, Insertion
from ruggedraft.intake.watching import look
from ruggedraft.journal.models import JournalEntry
from ruggedraft.kit.acts.make_ticket import make_ticket
from ruggedraft.notes.acts.write_note import write_note
from ruggedraft.notes.models import NoteOn
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Camera, Plan, Production, RedundancyRule
from ruggedraft.rolls.acts.move_device import move_device
from ruggedraft.rolls.acts.report_loss import report_loss
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.standins import hub
from ruggedraft.stores.acts.share_store import share_store
from ruggedraft.units.acts.send_unit import send_unit

from .world import World

HERE = "/api/productions/{production}/"
ASKS = None
"""Nothing is changed: whoever sees the place may ask."""
ACTS: dict[str, May | None] = {
    "POST bench/cameras/{letter}/clock": May.SET_CLOCK,
    "POST bench/cameras/{letter}/clock/moves": ASKS,
    "POST bench/cards/{card_id}/choice": ASKS,
    "POST bench/cards/{card_id}/compare": May.READ_CARD,
    "POST bench/cards/{card_id}/join": May.OFFLOAD,
    "POST bench/cards/{card_id}/offload": May.OFFLOAD,
    "POST bench/cards/{card_id}/read": May.READ_CARD,
    "POST bench/cards/{card_id}/release": May.READ_CARD,
    "PUT bench/folders": May.KEEP_STORES,
    "POST bench/insertions/{insertion_id}/introduce": May.INTRODUCE_CARD,
    "DELETE bench/insertions/{insertion_id}/not-ours": May.INTRODUCE_CARD,
    "POST bench/insertions/{insertion_id}/not-ours": May.INTRODUCE_CARD,
    "POST bench/insertions/{insertion_id}/recognise": May.INTRODUCE_CARD,
    "POST bench/insertions/{insertion_id}/whole": May.READ_CARD,
    "POST bench/offloads/{offload_id}/acknowledge": May.OFFLOAD,
    "POST bench/onward": May.OFFLOAD,
    "PUT bench/queue/{station}": May.OFFLOAD,
    "PUT bench/readers/{reader_id}/name": May.KEEP_STORES,
    "POST bench/readers/{reader_id}/unattended": May.OFFLOAD,
    "POST bench/rolls/{roll_id}/bring": May.OFFLOAD,
    "POST camera-reports": May.NOTE,
    "POST camera-reports/look": ASKS,
    "DELETE camera-reports/{report_id}": May.NOTE,
    "PUT cards/{label}/holder": May.CARRY,
    "POST cards/{label}/removal": May.REMOVE,
    "DELETE clearing/cards/{card_id}/aside": May.SET_ASIDE,
    "POST clearing/cards/{card_id}/aside": May.SET_ASIDE,
    "PUT clearing/cards/{card_id}/camera": May.INTRODUCE_CARD,
    "POST clearing/cards/{card_id}/gone": May.WAIVE,
    "POST clearing/cards/{card_id}/hand-back": May.SIGN,
    "POST clearing/cards/{card_id}/look": ASKS,
    "POST clearing/cards/{card_id}/refuse": May.SIGN,
    "POST clearing/cards/{card_id}/revoke": May.REVOKE,
    "POST clearing/cards/{card_id}/sign": May.SIGN,
    "POST clearing/cards/{card_id}/trust": May.SET_ASIDE,
    "POST clearing/cards/{card_id}/waive": May.WAIVE,
    "POST clearing/cards/{card_id}/waive-left": May.WAIVE,
    "POST clearing/cards/{card_id}/waive-stretch": May.WAIVE,
    "POST clearing/holds": May.HOLD,
    "DELETE clearing/holds/{hold_id}": May.LIFT_HOLD,
    "POST copies/{copy_id}/check": May.CHECK,
    "PUT news/mine": May.SEE_WORK,
    "POST news/seen": May.NOTE,
    "POST notes": May.NOTE,
    "DELETE notes/{note_id}": May.SET_UP,
    "POST people/invitations": May.SET_UP,
    "DELETE people/{person_id}": May.SET_UP,
    "POST people/{person_id}/again": May.SET_UP,
    "POST people/{person_id}/password-link": May.SET_UP,
    "PUT people/{person_id}/role": May.SET_UP,
    "POST programs": May.SET_UP,
    "PUT programs/escalation": May.SET_UP,
    "DELETE programs/{hook_id}": May.SET_UP,
    "POST runs/{run_id}/cancel": May.OFFLOAD,
    "POST runs/{run_id}/pause": May.OFFLOAD,
    "POST runs/{run_id}/resume": May.OFFLOAD,
    "POST screens": May.KEEP_STORES,
    "DELETE screens/{screen_id}": May.KEEP_STORES,
    "POST setup/cameras": May.PLAN,
    "PUT setup/cameras/{letter}": May.PLAN,
    "POST setup/close": May.SET_UP,
    "POST setup/open": May.SET_UP,
    "POST setup/plans": May.PLAN,
    "PUT setup/plans/{plan_id}": May.PLAN,
    "POST setup/plans/{plan_id}/example": ASKS,
    "PUT setup/production": May.PLAN,
    "POST setup/productions": May.SET_UP,
    "POST setup/rigs": May.PLAN,
    "PATCH setup/rule": May.SET_UP,
    "POST setup/rule/effect": ASKS,
    "PUT setup/rule/exceptions": May.SET_UP,
    "POST setup/rule/exceptions/effect": ASKS,
    "POST shifts": May.HAND_OVER,
    "POST shifts/taken": May.HAND_OVER,
    "POST stores": May.KEEP_STORES,
    "POST stores/buckets": May.KEEP_STORES,
    "POST stores/comparisons": May.CHECK,
    "POST stores/comparisons/stop": May.CHECK,
    "POST stores/servers": May.KEEP_STORES,
    "POST stores/servers/host-key": May.KEEP_STORES,
    "PUT stores/volumes/reader": May.KEEP_STORES,
    "POST stores/webdav": May.KEEP_STORES,
    "PUT stores/{name}": May.KEEP_STORES,
    "POST stores/{name}/adopt": May.OFFLOAD,
    "PUT stores/{name}/backups": May.SET_UP,
    "PUT stores/{name}/carrier": May.CARRY,
    "PUT stores/{name}/credentials": May.KEEP_STORES,
    "POST stores/{name}/device": May.KEEP_STORES,
    "POST stores/{name}/found": May.REPORT_LOSS,
    "POST stores/{name}/lost": May.REPORT_LOSS,
    "PUT stores/{name}/place": May.KEEP_STORES,
    "DELETE stores/{name}/retired": May.KEEP_STORES,
    "POST stores/{name}/retired": May.KEEP_STORES,
    "POST stores/{name}/search": May.CHECK,
    "POST stores/{name}/shared": May.KEEP_STORES,
    "POST stores/{name}/take-in": May.KEEP_STORES,
    "POST tally/deliveries": May.DELIVER,
    "DELETE tally/rolls/{tag}/delivery": May.DELIVER,
    "POST tally/rolls/{tag}/drops": May.WAIVE,
    "POST tally/rolls/{tag}/openings": May.SEE_WORK,
    "POST units": May.SET_UP,
    "POST units/begin": May.SET_UP,
    "POST units/hand-in": May.HAND_OVER,
    "POST units/joins": May.SET_UP,
    "DELETE units/{unit_id}": May.SET_UP,
    "POST units/{unit_id}/set-up": May.SET_UP,
    "POST upkeep/orders": May.KEEP_STORES,
    "DELETE upkeep/orders/{order_id}": May.KEEP_STORES,
    "PUT upkeep/stores/{name}": May.KEEP_STORES,
}
"""What each operation that changes something takes. One that is not in here fails the test."""
REPORT = "Um9sbCxDbGlwCkEwMDEsNwo="  # Roll,Clip / A001,7
SAID = {
    "POST clearing/holds": {"on": "card", "name": "A-01", "reason": "none"},
    "POST upkeep/orders": {"to": "three"},
    "POST camera-reports": {"name": "a.csv", "content": REPORT, "columns": {"roll": ["Roll"], "clip": ["Clip"]}},
    "POST camera-reports/look": {"content": REPORT},
    "POST units/begin": {
        "version": 1,
        "production": "5c0e3a52-7f0f-4b6c-9d0a-8f1e2d3c4b5a",
        "name": "Stork",
        "time_zone": "UTC",
        "first_day": "2026-05-14",
        "day_starts_at": 4,
        "rule": {},
        "cameras": [],
        "cards": [],
        "numbers": {},
        "unit": "0b0e3a52-7f0f-4b6c-9d0a-8f1e2d3c4b5a",
        "unit_name": "North",
        "secret": "ab",
    },
    "POST notes": {"on": "day", "name": "2026-05-14", "words": "fog"},
    "PUT clearing/cards/{card_id}/camera": {"production": "heron", "camera": "A"},
    "POST stores/{name}/shared": {"production": "heron"},
    "PUT setup/rule/exceptions": {"on": {"kind": "camera", "name": "A"}, "reason": "none", "parts": {"copies": 3}},
}
"""Bodies of which an example by their shape alone would name nothing that is there."""
FILES = {"POST units/joins": {"file": b"none"}}
"""What is sent as files."""
STATE = ("tally", "footage", "clearing", "waterline")
SHARED = {
    "PUT bench/readers/{reader_id}/name",
    "POST bench/readers/{reader_id}/unattended",
    "PUT bench/queue/{station}",
}
"""Readers and queues are of stations, which productions share."""


class EveryOperation(World, TestCase):
    """The API as it describes itself, with an example of each thing that an address may name."""

    def setUp(self):
        super().setUp()
        self.people = {role: self.person(f"one-{role}", role) for role in Role.values}
        roll = self.offload()
        self.sign()
        copy = Copy.objects.filter(roll=roll).earliest("pk")
        stay = Insertion.objects.latest("pk")
        hold = place_hold(self.wren, self.camera, "until the client has it")
        self.words = {
            "letter": "A", "card_id": self.card.pk, "label": self.card.label, "insertion_id": stay.pk,
            "offload_id": Offload.objects.latest("pk").pk, "station": "cart", "reader_id": stay.reader_id,
            "roll_id": roll.pk, "tag": roll.tag, "hold_id": hold.pk, "copy_id": copy.pk, "name": "one",
            "person_id": self.pip.pk, "run_id": ask_check(self.wren, copy).pk, "plan_id": self.plan.pk, "order_id": 1,
            "clearance_id": Clearance.objects.latest("pk").pk,
            "note_id": write_note(self.wren, self.production, NoteOn.DAY, "2026-05-14", "fog").pk,
            "screen_id": self.screen(),
            "day": "2026-05-14", "unit_id": send_unit(self.sol, self.production, "North", {"A": (501, 510)}).pk,
            "report_id": 0, "hook_id": 0, "media_id": Media.objects.create(facts={}, preview=b"none").pk,
        }  # fmt: skip
        self.known = {
            "tag": roll.tag, "camera": "A", "store": "three", "left": "one", "right": "two", "username": "pip",
            "tags": [roll.tag], "role": "wrangler",
        }  # fmt: skip
        self.described = api.get_openapi_schema()
        self.operations = {
            f"{method.upper()} {path.removeprefix(HERE)}": operation
            for path, operations in self.described["paths"].items()
            for method, operation in operations.items()
            if path.startswith(HERE)
        }

    def screen(self) -> int:
        make_screen(self.sol, self.production.pk, "cart")
        return SharedScreen.objects.get().pk

    def example(self, shape: dict[str, Any]) -> Any:
        """The least that a JSON schema takes."""
        if "$ref" in shape:
            return self.example(self.described["components"]["schemas"][shape["$ref"].rpartition("/")[2]])
        for choices in (shape.get("anyOf"), shape.get("allOf"), shape.get("oneOf")):
            if choices:
                return self.example(choices[0])
        if "enum" in shape or "const" in shape:
            return shape.get("const", (shape.get("enum") or [None])[0])
        if shape.get("type") == "object":
            needed = shape.get("required", ())
            fields = {name: one for name, one in shape.get("properties", {}).items() if name in needed}
            return {name: self.known.get(name) or self.example(one) for name, one in fields.items()}
        if shape.get("format") == "date":
            return "2026-05-14"
        if shape.get("format") == "date-time":
            return "2026-05-14T09:00:00Z"
        plain = {"string": "none", "integer": 1, "number": 1.0, "boolean": False, "array": [], "null": None}
        return plain[shape["type"]]

    def ask(self, what: str, person: Person, production: str = "heron"):
        method, path = what.split(" ", 1)
        operation = self.operations[what]
        said = operation.get("requestBody", {}).get("content", {}).get("application/json", {}).get("schema")
        asked = {
            one["name"]: self.example(one["schema"])
            for one in operation.get("parameters", ())
            if one["in"] == "query" and one.get("required")
        }
        address = f"/api/productions/{production}/{path.format(**self.words)}"
        if asked:
            address += "?" + "&".join(f"{name}={value}" for name, value in asked.items())
        words = {"headers": {"host": "localhost"}, "content_type": "application/json"}
        if method == "GET":
            words.pop("content_type")
            return self._same_client(person).get(address, **words)
        if what in FILES:
            words.pop("content_type")
            given = {name: SimpleUploadedFile("a", content) for name, content in FILES[what].items()}
            return self._same_client(person).post(address, given, **words)
        body = json.dumps(SAID.get(what) or self.example(said)) if said else "{}"
        return getattr(self._same_client(person), method.lower())(address, body, **words)


class Roles(EveryOperation):
    def test_every_operation_is_in_the_table(self):
        changing = {what for what in self.operations if not what.startswith("GET ")}
        self.assertEqual(changing, set(ACTS))

    def test_each_operation_is_refused_to_exactly_the_roles_that_may_not(self):
        """Whatever else speaks against it: an act first asks who wants it."""
        with patch("ruggedraft.stores.acts.ask_host_key.host_key_of", side_effect=ActRefused("nobody is there")):
            for what in sorted(self.operations):
                for role, person in self.people.items():
                    self._same_client(person)  # signed in before what is rolled back
                    with self.subTest(what, role=role), transaction.atomic():
                        answer = self.ask(what, person)
                        transaction.set_rollback(True)
                    if what == "POST screens":  # whoever makes one is signed out by it
                        self.clients.clear()
                        self.assertNotIn(answer.status_code, (401, 422), answer.content[:200])
                        self.assertEqual(answer.status_code != 403, self._may(what, role), answer.content[:200])

    def _may(self, what: str, role: str) -> bool:
        place = what.split(" ", 1)[1].partition("/")[0]
        sees = May.SEE_STATE if place in STATE else May.SEE_WORK
        return {sees, ACTS.get(what) or sees} <= MAY[role]

    def test_what_a_role_may_do_is_said_as_it_is(self):
        """`docs/roles.md` is the same table, for people."""
        said = (Path(settings.ROOT) / "docs" / "roles.md").read_text()
        rows = [line.strip("| ").split("|") for line in said.splitlines() if line.startswith("| ")]
        head, *cells = [[cell.strip() for cell in row] for row in rows]
        self.assertEqual(head[1:], [Role(role).label for role in MAY])
        told = {row[0]: [cell == "yes" for cell in row[1:]] for row in cells if not row[0].startswith("-")}
        self.assertEqual(told, {act.value: [act in MAY[role] for role in MAY] for act in May})

    def test_a_session_is_told_what_its_role_is_and_allows(self):
        for role, person in self.people.items():
            (mine,) = self.get("session", person)["productions"]
            self.assertEqual(mine["role"], Role(role).label)
            self.assertEqual(set(mine["may"]), {act.name.lower() for act in MAY[role]})


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
