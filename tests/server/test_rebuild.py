"""A ledger that is lost with all its backups is made again from the records on the drives, at what can be proven."""

import io
import json
import shutil
from pathlib import Path

from django.core.management import call_command
from django.test import TransactionTestCase

from ruggedraft.checks.models import CheckRun
from ruggedraft.checks.running import carry_out as run_check
from ruggedraft.clearing.cases import case
from ruggedraft.clearing.models import Clearance
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.manifests import format_record, parse_record
from ruggedraft.core.redundancy import CardStanding
from ruggedraft.crew.acts.invite import link_for_password
from ruggedraft.crew.acts.use_link import use_link
from ruggedraft.crew.models import Person
from ruggedraft.intake.models import Card
from ruggedraft.intake.watching import look
from ruggedraft.journal.anchors import anchors_beneath
from ruggedraft.kit.models import Station
from ruggedraft.offloads.acts.rebuild_ledger import Rebuilt, rebuild_ledger
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Copy, Reading, Roll, RollFile
from ruggedraft.standins import hub
from ruggedraft.stores.models import Store

from .world import World

FACTS = ("path", "size", "modified_ns", "checksum", "fingerprint", "kept_as")


class RebuildCase(World):
    def setUp(self):
        super().setUp()
        self.offload()
        self.sign()
        self.folders = [hub.home() / "drives" / name for name in ("one", "two")]

    def record(self, store: str) -> Path:
        return next((hub.home() / "drives" / store).rglob("*.record.json"))

    def facts(self) -> dict:
        """Everything of rolls and copies that a record is to bring back, by the roll's tag."""
        return {
            roll.tag: (
                roll.production.name, roll.production.time_zone, str(roll.production.first_day), roll.camera.letter,
                roll.card.label, roll.number, str(roll.shoot_day), roll.opened_at, roll.algorithm, roll.fs_serial,
                sorted(roll.files.values_list(*FACTS)),
                sorted(roll.copies.values_list("store__uuid", "store__name", "folder")),
                roll.production.rule.as_rule(),
            )
            for roll in Roll.objects.all()
        }  # fmt: skip

    def lose_everything(self) -> None:
        call_command("flush", interactive=False, verbosity=0)
        self.assertFalse(Person.objects.exists())

    def rebuild(self) -> Rebuilt:
        self.supervisor, done = rebuild_ledger("Sol again", self.folders)
        return done

    def check_all(self) -> None:
        """As the station does with what the command asks for."""
        from ruggedraft.checks.acts.ask_check import ask_check

        station = self.this_station()
        for copy in Copy.objects.order_by("pk"):
            run_check(ask_check(self.supervisor, copy, station).pk)

    def this_station(self) -> Station:
        return Station.objects.get_or_create(name="cart")[0]

    def levels(self) -> set[int]:
        return set(Reading.objects.values_list("level", flat=True))


class Rebuild(RebuildCase, TransactionTestCase):
    def test_rolls_and_copies_are_back_row_by_row_and_count_for_nothing_before_they_are_read(self):
        before = self.facts()
        self.lose_everything()
        done = self.rebuild()
        self.assertEqual(self.facts(), before)
        self.assertEqual((done.rolls, sorted(done.stores), done.passed_over), (["A001"], ["one", "two"], []))
        self.assertEqual(self.levels(), {Evidence.LISTED})
        card = Card.objects.get()
        self.assertIn(case(card).standing, (CardStanding.NEVER_READ, CardStanding.BLOCKED))
        self.assertFalse(Clearance.objects.exists(), "nobody has cleared anything in this ledger")

    def test_once_read_again_the_card_is_ready_to_sign_and_not_before(self):
        self.lose_everything()
        self.rebuild()
        look(self.this_station())
        card = Card.objects.select_related("camera__production__rule", "camera__plan").get()
        self.assertEqual(case(card).standing, CardStanding.BLOCKED)
        self.check_all()
        self.assertEqual(self.levels(), {Evidence.LISTED, Evidence.READ_BACK})
        self.assertEqual(case(card).standing, CardStanding.CLEARABLE)

    def test_a_copy_that_was_damaged_meanwhile_is_found_out_and_clears_nothing(self):
        self.lose_everything()
        self.rebuild()
        file = RollFile.objects.order_by("pk").first()
        path = hub.home() / "drives" / "one" / Copy.objects.get(store__name="one").folder / (file.kept_as or file.path)
        path.chmod(0o644)
        content = bytearray(path.read_bytes())
        content[0] ^= 1
        path.write_bytes(content)
        self.check_all()
        look(self.this_station())
        card = Card.objects.select_related("camera__production__rule", "camera__plan").get()
        self.assertEqual(case(card).standing, CardStanding.BLOCKED)

    def test_the_supervisor_gets_in_by_a_link_and_by_nothing_else(self):
        self.lose_everything()
        self.rebuild()
        self.assertFalse(self.supervisor.has_usable_password())
        secret = link_for_password(self.supervisor, self.supervisor)
        use_link(secret, name="", password="a raft of nine planks", origin="here")
        self.supervisor.refresh_from_db()
        self.assertTrue(self.supervisor.check_password("a raft of nine planks"))

    def test_the_lost_journals_heads_are_taken_over_and_no_others(self):
        self.lose_everything()
        self.rebuild()
        anchors = [anchor for folder in self.folders for anchor in anchors_beneath(folder)]
        self.assertTrue(anchors and all(anchor.holds for anchor in anchors))
        told = json.loads(self.record("one").read_text())
        told["journal"]["seal"] = "0" * 64
        self.record("one").write_text(json.dumps(told))
        self.assertEqual([a.holds for a in anchors_beneath(self.folders[0])], [False])

    def test_records_that_are_damaged_foreign_newer_or_contradict_each_other_are_named_and_not_believed(self):
        whole = self.record("one").read_bytes()
        record = parse_record(whole)
        changed = [file._replace(checksum="0" * 32) for file in record.files]
        foreign = {**record.store, "uuid": "00000000-0000-0000-0000-000000000001"}
        cases = {
            "not JSON": whole[: len(whole) // 2],
            "a newer version": whole.replace(b'"form": 2', b'"form": 3'),
            "an older version": b'{"roll": "A001", "folder": "x", "journal": {"id": 1, "seal": ""}}',
            "written for another store": format_record(type(record)(**{**record.__dict__, "store": foreign})),
            "contradict each other": format_record(type(record)(**{**record.__dict__, "files": changed})),
        }
        for words, content in cases.items():
            with self.subTest(words):
                self.record("one").write_bytes(content)
                self.lose_everything()
                done = self.rebuild()
                self.assertTrue(any(words in sentence for sentence in done.passed_over), done.passed_over)
                if words == "contradict each other":
                    self.assertEqual(Roll.objects.count(), 0)
                else:
                    self.assertEqual([copy.store.name for copy in Copy.objects.all()], ["two"])

    def test_a_drive_that_was_copied_as_a_whole_is_not_counted_twice(self):
        twin = self.base / "twin"
        shutil.copytree(self.folders[0], twin)
        self.folders.append(twin)
        self.lose_everything()
        done = self.rebuild()
        self.assertTrue(any("is the store 'one' of this ledger already" in one for one in done.passed_over))
        self.assertEqual(Store.objects.count(), 2)

    def test_a_ledger_that_was_begun_or_stores_without_records_are_refused(self):
        with self.assertRaisesRegex(ActRefused, "Somebody has begun"):
            self.rebuild()
        self.lose_everything()
        self.folders = [hub.home() / "drives" / "three", self.base]
        with self.assertRaisesRegex(ActRefused, "No record that can be used"):
            self.rebuild()
        self.assertFalse(Person.objects.exists() or Production.objects.exists())

    def test_the_command_asks_for_every_copy_to_be_checked(self):
        self.lose_everything()
        call_command("rebuild_ledger", *map(str, self.folders), name="Sol", stdout=(out := io.StringIO()))
        self.assertEqual(json.loads(out.getvalue())["rolls"], ["A001"])
        self.assertEqual(CheckRun.objects.filter(finished_at=None).count(), 2)
