"""Every operation of the API's own description, with what it takes and an example of whatever it may name."""

import json
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from ruggedraft.accounts.acts.make_account import make_account
from ruggedraft.api import api
from ruggedraft.checks.acts.ask_check import ask_check
from ruggedraft.clearing.acts.holds import place_hold
from ruggedraft.clearing.models import Clearance
from ruggedraft.core.accounts import AccountOn
from ruggedraft.core.delivering import DeliveryWay
from ruggedraft.core.sets import medium_named
from ruggedraft.crew.acts.shared_screen import make_screen
from ruggedraft.crew.models import Person, Role, SharedScreen
from ruggedraft.crew.permissions import May
from ruggedraft.delivering.acts.deliver import deliver
from ruggedraft.footage.models import Media
from ruggedraft.intake.models import Insertion
from ruggedraft.journal.clock import now
from ruggedraft.notes.acts.write_note import write_note
from ruggedraft.notes.models import NoteOn
from ruggedraft.offloads.models import Offload
from ruggedraft.returning.models import FolderLook
from ruggedraft.rolls.models import Copy
from ruggedraft.sets.acts.divide_rolls import divide_rolls
from ruggedraft.units.acts.send_unit import send_unit

from .world import World

HERE = "/api/productions/{production}/"
ASKS = None
"""Nothing is changed: whoever sees the place may ask."""
ACTS: dict[str, May | None] = {
    "POST accounts/{on}/{about}": May.SEE_WORK,
    "POST accounts/editions/{edition_id}/paper": May.SEE_WORK,
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
    "POST certificates/keys": May.SET_UP,
    "DELETE choosing/marks/{mark_id}": May.NOTE,
    "POST choosing/rolls/{tag}/decoding": May.CHECK,
    "POST choosing/rolls/{tag}/marks": May.NOTE,
    "POST choosing/rolls/{tag}/waivers": May.WAIVE,
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
    "POST returns/lists": ASKS,
    "POST returns/looks": May.CHECK,
    "DELETE returns/looks/{look_id}": May.CHECK,
    "POST returns/looks/{look_id}/returns": May.OFFLOAD,
    "POST returns/making": May.OFFLOAD,
    "POST returns/restores": May.OFFLOAD,
    "POST returns/take-aways": May.OFFLOAD,
    "POST runs/{run_id}/cancel": May.OFFLOAD,
    "POST runs/{run_id}/pause": May.OFFLOAD,
    "POST runs/{run_id}/resume": May.OFFLOAD,
    "POST screens": May.KEEP_STORES,
    "POST keywords": May.NOTE,
    "POST room": May.MAKE_ROOM,
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
    "POST deliveries/{consignment_id}/papers": May.DELIVER,
    "POST sets": May.OFFLOAD,
    "POST sets/returned": May.KEEP_STORES,
    "POST sets/{number}/volumes/{volume}/folder": May.OFFLOAD,
    "PUT sets/{number}/volumes/{volume}/shelf": May.OFFLOAD,
    "POST stores/{name}/take-in": May.KEEP_STORES,
    "POST stores/{name}/packages": May.KEEP_STORES,
    "POST stores/{name}/packages/{tag}/open": May.KEEP_STORES,
    "POST tally/deliveries": May.DELIVER,
    "POST tally/looked": May.SEE_STATE,
    "POST deliveries": May.DELIVER,
    "POST deliveries/emblem": May.DELIVER,
    "DELETE deliveries/emblem": May.DELIVER,
    "DELETE deliveries/{consignment_id}": May.DELIVER,
    "POST deliveries/{consignment_id}/received": May.DELIVER,
    "POST find/views": May.SEE_WORK,
    "DELETE find/views/{view_id}": May.SEE_WORK,
    "POST tally/views": May.SEE_STATE,
    "DELETE tally/views/{view_id}": May.SEE_STATE,
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
    "POST sets": {"tags": ["A001"], "medium": "DVD, 4.7 GB"},
    "POST sets/{number}/volumes/{volume}/folder": {"station": "cart", "folder": "/media/edit"},
    "POST sets/returned": {"station": "cart", "folder": "/media/edit", "place": "cart"},
    "POST clearing/holds": {"on": "card", "name": "A-01", "reason": "none"},
    "POST upkeep/orders": {"to": "three"},
    "POST returns/looks": {"station": "cart", "folder": "/media/edit"},
    "POST returns/making": {"station": "cart", "folder": "/media/edit", "tags": ["A001"], "codec": "h264"},
    "POST returns/take-aways": {"station": "cart", "folder": "/media/edit", "tags": ["A001"]},
    "POST keywords": {"files": [{"tag": "A001", "path": "zero"}], "add": ["fog"]},
    "POST room": {"store": "one", "rolls": [{"tag": "A001", "files": 1, "bytes": 1}]},
    "POST returns/restores": {"station": "cart", "folder": "/media/edit", "tags": ["A001"]},
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
        "secret": "ab" * 32,
    },
    "POST find/views": {"name": "fog", "sought": {"text": "fog"}},
    "POST tally/views": {"name": "tonight", "sought": {"day": "today"}},
    "POST choosing/rolls/{tag}/marks": {"path": "DCIM/NONE.MOV", "kind": "keep"},
    "POST notes": {"on": "day", "name": "2026-05-14", "words": "fog"},
    "PUT clearing/cards/{card_id}/camera": {"production": "heron", "camera": "A"},
    "POST stores/{name}/shared": {"production": "heron"},
    "PUT setup/rule/exceptions": {"on": {"kind": "camera", "name": "A"}, "reason": "none", "parts": {"copies": 3}},
}
"""Bodies of which an example by their shape alone would name nothing that is there."""
FILES = {
    "POST units/joins": {"file": b"none"},
    "POST returns/lists": {"file": b"A.MOV"},
    "POST deliveries/emblem": {"file": b"none"},
}
"""What is sent as files."""
STATE = ("tally", "footage", "clearing", "certificates", "waterline")
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
            "report_id": 0, "hook_id": 0, "view_id": 0, "mark_id": 0, "file_id": roll.files.first().pk, "kind": "small",
            "media_id": Media.objects.create(facts={}, preview=b"none").pk,
        }  # fmt: skip
        self.words |= {
            "consignment_id": deliver(self.wren, self.production, [roll.tag], "Broadcaster", DeliveryWay.LINK)[0].pk,
            "on": "roll", "about": roll.tag,
            "edition_id": make_account(self.wren, self.production, AccountOn.ROLL, roll.tag).pk,
        }  # fmt: skip
        media_set = divide_rolls(self.wren, self.production, [roll.tag], medium_named("DVD, 4.7 GB"))
        self.words |= {"number": media_set.number, "volume": 1}
        self.words["look_id"] = FolderLook.objects.create(
            production=self.production, station=self.station, person=self.wren, folder="/media/barge", asked_at=now()
        ).pk
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
