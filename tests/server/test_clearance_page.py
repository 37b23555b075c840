"""A clearance keeps everything it was decided on, and its page says what happened since."""

import hashlib
import json

from django.db import connection
from django.test import TestCase

from ruggedraft.clearing.evidence import unpacked
from ruggedraft.clearing.models import Clearance
from ruggedraft.intake.watching import look
from ruggedraft.rolls.models import RollFile
from ruggedraft.standins import hub

from .deciding import Deciding


class ClearancePages(Deciding, TestCase):
    def setUp(self):
        super().setUp()
        self.plan.stores.set(self.drives.values())
        self.offload()
        self.post(f"clearing/cards/{self.card.pk}/waive", {"path": "zero", "reason": "nothing is in it"})
        self.hold("roll", "A001", "the lab has not called")
        held = self.standing()["holds"][0]["id"]
        self.post(f"clearing/holds/{held}?why=it+called", method="delete")
        self.sign()
        self.cleared = Clearance.objects.get()

    def page(self) -> dict:
        return self.get(f"clearing/clearances/{self.cleared.pk}")

    def test_all_facts_are_in_it_none_by_reference_only(self):
        page = self.page()
        told = page["evidence"]
        self.assertEqual(told["asked"], "2 copies on 2 devices, each read back")
        (roll,) = told["rolls"]
        self.assertEqual([copy["store"] for copy in roll["copies"]], ["one", "two", "three"])
        for copy in roll["copies"]:
            self.assertEqual((copy["counts"], copy["level"], copy["location"]), (True, "read back", "cart"))
            self.assertTrue(copy["device"] and copy["medium"] and copy["read_at"] and copy["looked_at"])
            self.assertEqual(copy["readings"][0]["origin"], "offload")
        self.assertEqual([waiver["path"] for waiver in told["waivers"]], ["zero"])
        (hold,) = told["holds_lifted"]
        self.assertEqual((hold["reason"], hold["why"], hold["lifted_by"]),
                         ("the lab has not called", "it called", "Wren"))  # fmt: skip
        self.assertEqual([one["name"] for one in told["signatures"]], ["Wren"])
        self.assertEqual((page["card"], page["tag"], page["files_in_all"]), ("A-01", "A001", 4))

    def test_every_file_is_written_down_with_its_checksum(self):
        told = {file.path: file for file in unpacked(bytes(self.cleared.files))}
        for row in RollFile.objects.all():
            self.assertEqual((told[row.path].size, told[row.path].checksum), (row.size, row.checksum))
        rows = [[f.path, f.size, f.modified_ns, f.checksum, f.fingerprint] for f in told.values()]
        kept = self.cleared.evidence["rolls"][0]["files"]["sha256_of_list"]
        self.assertEqual(hashlib.sha256(json.dumps(rows).encode()).hexdigest(), kept)

    def test_it_says_what_happened_since(self):
        self.assertEqual((self.page()["since"], self.page()["rolls_now"]), ([], [{"tag": "A001", "state": "safe"}]))
        hub.remove("slot-1")
        look(self.station)
        self.post(f"clearing/cards/{self.card.pk}/hand-back", {"to": "Kit Marsh"})
        for store in ("one", "two"):
            self.post(f"stores/{store}/lost", {"reason": "overboard"})
        self.post(f"clearing/cards/{self.card.pk}/revoke", {"reason": "two drives are gone"})
        page = self.page()
        self.assertEqual((page["handed_to"], page["revoked_why"]), ("Kit Marsh", "two drives are gone"))
        self.assertEqual(page["rolls_now"], [{"tag": "A001", "state": "below the line"}])
        self.assertEqual([one["act"] for one in page["since"]], ["revoke clearance", "hand back", "remove"])

    def test_one_of_an_earlier_version_is_shown_as_far_as_it_goes(self):
        with connection.cursor() as cursor:
            cursor.execute("UPDATE clearing_clearance SET files = NULL, evidence = evidence - 'asked' - 'holds_lifted'")
        page = self.page()
        self.assertEqual((page["files_in_all"], page["files"]), (0, []))
        self.assertNotIn("asked", page["evidence"])

    def test_there_is_none_of_another_production(self):
        self.assertEqual(self.get("clearing/clearances/999999")["status"], 404)
