"""Accounts file by file: held against the ledger and the disk, by edition, in three forms that say the same."""

import csv
import hashlib
import io
import json
import zlib
from datetime import timedelta
from unittest.mock import patch

import jsonschema_rs
import psycopg
import xxhash
from django.conf import settings
from django.test import TestCase, TransactionTestCase

from ruggedraft.accounts.models import Edition, Paper
from ruggedraft.accounts.queries import WHOLE
from ruggedraft.core.redundancy import CopyState
from ruggedraft.core.sources import from_ledger
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.live.locks import try_lock
from ruggedraft.live.notify import connection_words
from ruggedraft.project.roles import append_only_tables
from ruggedraft.reports import papers
from ruggedraft.reports.documents.account import _IN_WORDS
from ruggedraft.reports.papers import make_papers
from ruggedraft.rolls.models import RollFile
from ruggedraft.standins import hub

from .deciding import Deciding
from .test_labels import words_on
from .world import address


class Accounts(Deciding):
    def make(self, on: str = "roll", about: str = "A001", person=None) -> int:
        answer = self.post(f"accounts/{on}/{about}", {}, person)
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()["id"]

    def fetched(self, edition: int, kind: str, status: int = 200) -> bytes:
        path = address(f"accounts/editions/{edition}/account.{kind}")
        answer = self._same_client(None).get(path, headers={"host": "localhost"})
        self.assertEqual(answer.status_code, status, answer.content)
        return answer.content

    def told(self, edition: int) -> dict:
        return json.loads(self.fetched(edition, "json"))

    def paper(self, edition: int) -> bytes:
        self.assertEqual(self.post(f"accounts/editions/{edition}/paper", {}).status_code, 200)
        make_papers()
        return self.fetched(edition, "pdf")


class Made(Accounts, TestCase):
    def setUp(self):
        super().setUp()
        self.offload()

    def test_every_file_is_in_it_as_it_lies_on_the_disk(self):
        (roll,) = self.told(self.make())["account"]["rolls"]
        files = {one["kept_as"]: one for one in roll["files"]}
        (copy, _) = roll["copies"]
        folder = hub.home() / "drives" / copy["store"] / from_ledger(copy["folder"])
        there = {str(f.relative_to(folder)) for f in folder.rglob("*") if f.is_file() and ".xxh128" not in f.name}
        self.assertEqual({from_ledger(name) for name in files}, {one for one in there if "record" not in one})
        for name, one in files.items():
            data = (folder / from_ledger(name)).read_bytes()
            self.assertEqual((one["size"], one["checksum"]), (len(data), xxhash.xxh3_128_hexdigest(data)))
        self.assertEqual({one["store"]: one["state"] for one in roll["copies"]}, {"one": "verified", "two": "verified"})
        for one in roll["copies"]:
            self.assertTrue(one["device"] and one["place"] and one["read_at"] and one["readings"])
            for beside in one["beside"]:
                data = (hub.home() / "drives" / one["store"] / from_ledger(beside["path"])).read_bytes()
                self.assertEqual(hashlib.sha256(data).hexdigest(), beside["sha256"])
            self.assertTrue(one["beside"])

    def test_it_is_as_its_schema_says(self):
        said = json.loads((settings.ROOT / "docs" / "account.schema.json").read_text())
        self.assertEqual(said, WHOLE.json_schema(mode="serialization"), "write it anew: see CONTRIBUTING")
        for on, about in (("roll", "A001"), ("card", "A-01"), ("day", "2026-05-14"), ("store", "one")):
            jsonschema_rs.validate(said, self.told(self.make(on, about)))

    def test_the_same_facts_are_the_same_edition_and_later_ones_name_it(self):
        first = self.make()
        self.assertEqual(self.make(), first)
        self.hold("roll", "A001", "the lab has not called")
        second = self.make()
        self.assertNotEqual(second, first)
        old, new = self.told(first)["edition"], self.told(second)["edition"]
        self.assertEqual((old["number"], old["before"], new["number"]), (1, "", 2))
        self.assertEqual(new["before"], old["sha256"])
        facts = zlib.decompress(bytes(Edition.objects.get(pk=first).facts))
        self.assertEqual(hashlib.sha256(facts).hexdigest(), old["sha256"])
        self.assertEqual([one["number"] for one in self.get("accounts/roll/A001")], [2, 1])

    def test_looking_at_copies_again_is_no_other_fact(self):
        first = self.make()
        self.look_at_everything()
        self.assertEqual(self.make(), first)

    def test_what_was_left_waived_held_delivered_cleared_and_noted_is_in_it(self):
        self.post(f"clearing/cards/{self.card.pk}/waive", {"path": "zero", "reason": "nothing is in it"})
        self.hold("roll", "A001", "the lab has not called")
        held = self.standing()["holds"][0]["id"]
        self.post(f"clearing/holds/{held}?why=it+called", method="delete")
        self.sign()
        self.post("tally/deliveries", {"tags": ["A001"], "to": "Broadcaster"})
        self.post("notes", {"on": "roll", "name": "A001", "words": "fog from noon"})
        (roll,) = self.told(self.make())["account"]["rolls"]
        self.assertEqual([one["on"] for one in roll["waived"]], ["zero"])
        self.assertEqual([one["path"] for one in roll["files"] if one["waived"]], ["zero"])
        (hold,) = roll["holds"]
        self.assertEqual((hold["words"], hold["ended"]), ("the lab has not called", "Wren: it called"))
        self.assertEqual([one["signers"] for one in roll["cleared"]], [["Wren"]])
        self.assertEqual([one["words"] for one in roll["delivered"]], ["Broadcaster"])
        self.assertNotIn("fog", str(self.told(self.make())), "what the crew say to each other is handed to nobody")
        self.assertEqual([one["end"] for one in roll["runs"]], ["well"])

    def test_a_file_that_a_copy_lost_is_named_with_that_copy_and_not_counted_there(self):
        victim = next((hub.home() / "drives" / "one").rglob("AAAA0002.JPG"))
        victim.unlink()
        self.look_at_everything()
        made = self.make()
        (roll,) = self.told(made)["account"]["rolls"]
        lacking = {one["path"]: one["missing"] for one in roll["files"] if one["missing"]}
        self.assertEqual(list(lacking), ["DCIM/100AAAAA/AAAA0002.JPG"])
        self.assertEqual(*lacking.values(), [{"store": "one", "result": "absent"}])
        self.assertEqual(roll["copies"][0]["state"], "broken")
        rows = {row["path_on_card"]: row for row in self.rows(made)}
        row = rows["DCIM/100AAAAA/AAAA0002.JPG"]
        self.assertEqual((row["held_by"], row["not_known_to_be_on"]), ("two", "one (absent)"))
        self.assertEqual((row["verified_copies"], rows["zero"]["held_by"]), ("1", "one; two"))

    def rows(self, edition: int) -> list[dict[str, str]]:
        return list(csv.DictReader(io.StringIO(self.fetched(edition, "csv").decode("utf-8-sig"), newline="")))

    def test_the_table_has_a_line_a_file_and_no_formulas(self):
        RollFile.objects.filter(path="zero").update(path="=HYPERLINK(1)")
        rows = self.rows(self.make())
        self.assertEqual(len(rows), RollFile.objects.count())
        self.assertIn("'=HYPERLINK(1)", {row["path_on_card"] for row in rows})
        self.assertEqual({row["checksum"] for row in rows}, set(RollFile.objects.values_list("checksum", flat=True)))

    def test_a_waived_file_that_a_copy_lacks_is_not_said_to_be_verified_there(self):
        next((hub.home() / "drives" / "one").rglob("zero")).unlink()
        self.look_at_everything()
        self.post(f"clearing/cards/{self.card.pk}/waive", {"path": "zero", "reason": "nothing is in it"})
        made = self.make()
        (roll,) = self.told(made)["account"]["rolls"]
        self.assertEqual([one["state"] for one in roll["copies"]], ["verified", "verified"])
        (row,) = (row for row in self.rows(made) if row["path_on_card"] == "zero")
        self.assertEqual((row["held_by"], row["verified_copies"], row["waived"]), ("two", "1", "waived"))

    def test_what_is_too_much_for_one_account_is_refused(self):
        with patch("ruggedraft.accounts.gathering._MOST_FILES", 3):
            answer = self.post("accounts/roll/A001", {})
        self.assertEqual(answer.status_code, 409)
        self.assertIn("make one of each roll or day", answer.json()["title"])

    def test_a_store_that_was_lost_holds_nothing_in_it(self):
        self.assertEqual(self.post("stores/one/lost", {"reason": "overboard"}).status_code, 200)
        made = self.make()
        (roll,) = self.told(made)["account"]["rolls"]
        self.assertEqual([one["state"] for one in roll["copies"]], ["lost", "verified"])
        self.assertEqual({row["held_by"] for row in self.rows(made)}, {"two"})

    def test_an_edition_that_somebody_rewrote_is_not_handed_out(self):
        made = self.make()
        row = Edition.objects.get(pk=made)
        facts = zlib.decompress(bytes(row.facts)).replace(b'"verified"', b'"partial"')
        digest = hashlib.sha256(facts).hexdigest()
        Edition.objects.filter(pk=made).update(facts=zlib.compress(facts), sha256=digest)
        self.assertIn("not what the journal says", json.loads(self.fetched(made, "json", 409))["title"])

    def test_what_is_not_there_has_no_account(self):
        for on, about in (("roll", "Z999"), ("card", "none"), ("store", "none"), ("day", "yesterday")):
            self.assertEqual(self.post(f"accounts/{on}/{about}", {}).status_code, 404, on)
        self.assertEqual(self.post("accounts/thing/A001", {}).status_code, 422)
        self.fetched(999999, "json", 404)

    def test_of_a_card_a_day_and_a_store_it_has_every_roll(self):
        for on, about in (("card", "A-01"), ("day", "2026-05-14"), ("store", "two")):
            account = self.told(self.make(on, about))["account"]
            self.assertEqual([roll["tag"] for roll in account["rolls"]], ["A001"], on)
            self.assertEqual(account["about"], about)
        self.assertEqual(self.told(self.make("store", "three"))["account"]["rolls"], [])


class OnPaper(Accounts, TransactionTestCase):
    def setUp(self):
        super().setUp()
        aside = patch("ruggedraft.api.accounts.routes.have_papers_made")  # no process of its own: it is called here
        aside.start()
        self.addCleanup(aside.stop)
        self.offload()

    def test_it_says_what_the_facts_say_and_is_the_same_again(self):
        made = self.make()
        paper = self.paper(made)
        words = words_on(paper)
        flat = " ".join(words.split())
        for said in ("Heron: account of A001, edition 1", "read back", "verified", "one", "two", "1 of 2", "2 of 2"):
            self.assertIn(said, flat)
        for path, size, checksum in RollFile.objects.values_list("path", "size", "checksum"):
            shown = path.replace("\n", "\\n")
            self.assertIn(shown, words)
            self.assertIn(checksum, words)
            self.assertIn(f"{size:,}", words)
        Paper.objects.all().delete()
        self.assertEqual(self.paper(made), paper)

    def test_names_in_any_script_are_shown_or_written_by_number(self):
        RollFile.objects.filter(path="zero").update(path="волна/κύμα/גל/🌊/ñ")
        self.hold("roll", "A001", "Őrség, волна, κύμα, גל")
        words = words_on(self.paper(self.make()))
        self.assertIn("волна/κύμα/\\u05d2\\u05dc/\\U0001f30a/ñ", words)
        self.assertIn("Őrség, волна, κύμα, \\u05d2\\u05dc", words)

    def test_a_paper_that_cannot_be_made_says_why_and_can_be_asked_for_again(self):
        made = self.make()
        row = Edition.objects.get(pk=made)
        facts, sha256 = bytes(row.facts), row.sha256
        Edition.objects.filter(pk=made).update(facts=zlib.compress(b"{}"))
        self.post(f"accounts/editions/{made}/paper", {})
        make_papers()
        (told,) = self.get("accounts/roll/A001")
        self.assertEqual((told["made"], told["being_made"]), (False, False))
        self.assertIn("not what the journal says", told["trouble"])
        self.fetched(made, "pdf", 404)
        Edition.objects.filter(pk=made).update(facts=facts, sha256=sha256)
        self.assertTrue(self.paper(made).startswith(b"%PDF"))

    def test_one_process_makes_papers_and_the_other_leaves_them_to_it(self):
        self.post(f"accounts/editions/{self.make()}/paper", {})
        with psycopg.connect(**connection_words()) as hold:
            self.assertTrue(try_lock(hold, papers._KIND, papers._ONE))
            self.assertEqual(make_papers(), 0)
            Paper.objects.update(asked_at=now() - timedelta(minutes=1))
            self.assertTrue(self.get("accounts/roll/A001")[0]["being_made"])
        self.assertFalse(self.get("accounts/roll/A001")[0]["being_made"], "whoever made it was killed")
        self.post(f"accounts/editions/{self.make()}/paper", {})
        self.assertTrue(self.get("accounts/roll/A001")[0]["being_made"], "somebody asked just now")
        self.assertEqual(make_papers(), 1)
        self.assertTrue(self.get("accounts/roll/A001")[0]["made"])

    def test_the_journal_knows_its_digest_and_the_application_cannot_change_it(self):
        made = self.make()
        detail = JournalEntry.objects.get(act="make account").detail
        self.assertEqual(detail, {"edition": made, "sha256": Edition.objects.get().sha256})
        self.assertIn(Edition._meta.db_table, append_only_tables())

    def test_the_words_for_states_are_all_there(self):
        self.assertEqual(set(_IN_WORDS), set(CopyState))
