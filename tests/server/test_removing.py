"""Taking files off a card here: only what is safe elsewhere, compared byte for byte, one at a time; nothing else."""

import os
from unittest.mock import patch

from django.test import TransactionTestCase

from ruggedraft.clearing import removing
from ruggedraft.clearing.models import Removal, RemovedFile
from ruggedraft.core.sources import FolderSource
from ruggedraft.crew.models import Role
from ruggedraft.journal.models import JournalEntry
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Copy
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub

from .deciding import Deciding
from .world import SHOT


class Removing(Deciding, TransactionTestCase):
    def setUp(self):
        super().setUp()
        self.stills(4)
        for n in range(2):
            make.add_file(self.card_folder, f"HOLIDAY/PIC{n}.JPG", b"somebody else's %d" % n, SHOT)
        self.put_in("A-01")
        self.start(picked=self.ours())
        self.run_all()
        Production.objects.update(removal_allowed=True)
        self.look_at_everything()

    def ours(self) -> list[str]:
        return sorted(str(f.relative_to(self.card_folder)) for f in self.card_folder.glob("DCIM/*/*"))

    def on_card(self) -> list[str]:
        return sorted(str(f.relative_to(self.card_folder)) for f in self.card_folder.rglob("*") if f.is_file())

    def ask(self, person=None, **words):
        detail = self.get("cards/A-01")
        told = {"tag": "A001", "count": detail["removable"]["files"], "digest": detail["case"]["digest"]}
        return self.post("cards/A-01/removal", {**told, **words}, person)

    def take_off(self) -> Removal:
        self.assertEqual(self.ask().status_code, 200)
        self.run_all()
        return Removal.objects.latest("pk")

    def test_only_our_files_go_and_everything_else_stays_as_it_was(self):
        theirs = {path: (self.card_folder / path).stat() for path in self.on_card() if path.startswith("HOLIDAY")}
        offered = self.get("cards/A-01")["removable"]
        self.assertEqual((offered["files"], offered["paths"]), (4, self.ours()))
        ours = self.ours()
        removal = self.take_off()
        self.assertEqual(removal.end, "well", removal.outcome)
        self.assertEqual(self.on_card(), sorted(theirs))
        for path, before in theirs.items():
            now = (self.card_folder / path).stat()
            self.assertEqual((now.st_ino, now.st_mtime_ns, now.st_size),
                             (before.st_ino, before.st_mtime_ns, before.st_size))  # fmt: skip
        self.assertEqual(list(RemovedFile.objects.order_by("path").values_list("path", flat=True)), ours)
        self.assertFalse(RemovedFile.objects.filter(removed_at=None).exists())
        self.assertIn("4 files taken off card A-01, each compared", self.get("cards/A-01")["removable"]["last"])
        acts = set(JournalEntry.objects.values_list("act", flat=True))
        self.assertLessEqual({"start removal", "finish removal"}, acts)
        self.assertEqual(self.standing()["gone_in_all"], 0, "nobody has to answer for what is in copies")

    def test_the_roll_lives_on_its_stores_alone_from_then_on(self):
        self.take_off()
        self.assertEqual(self.get("tally/rolls/A001")["roll"]["state"], "safe")
        self.post("stores/two/lost", {"reason": "overboard"})
        self.assertEqual(self.get("tally/rolls/A001")["roll"]["state"], "below the line")
        self.assertEqual(self.get("waterline")["rolls_below"], ["A001"])

    def test_a_file_that_is_another_by_now_stays(self):
        path = self.card_folder / self.ours()[0]
        times, content = path.stat(), path.read_bytes()
        answer = self.ask()
        path.write_bytes(content[:-1] + bytes([content[-1] ^ 1]))
        os.utime(path, ns=(times.st_atime_ns, times.st_mtime_ns))
        with patch.object(removing, "read_card"):  # as if it changed after the card was read for the batch
            self.run_all()
        self.assertEqual(answer.status_code, 200)
        removal = Removal.objects.get()
        self.assertTrue(path.exists())
        self.assertEqual(removal.end, "trouble")
        self.assertIn("1 file stays", removal.outcome)
        self.assertIn("not what was copied", RemovedFile.objects.exclude(trouble="").get().trouble)
        self.assertEqual(len(self.ours()), 1)

    def test_a_copy_that_rotted_saves_its_file_on_the_card(self):
        for store in ("one", "two"):
            for file in (hub.home() / "drives" / store).rglob("*0002.JPG"):
                times, content = file.stat(), file.read_bytes()
                file.chmod(0o644)
                file.write_bytes(content[:-1] + bytes([content[-1] ^ 1]))
                os.utime(file, ns=(times.st_atime_ns, times.st_mtime_ns))
        removal = self.take_off()
        self.assertEqual([path[-8:] for path in self.ours()], ["0002.JPG"])
        self.assertIn("not what was copied", removal.outcome)

    def test_a_copy_that_is_lost_on_the_way_stops_it(self):
        real, count = FolderSource.remove, [0]

        def lose(source, path, is_same):
            real(source, path, is_same)
            count[0] += 1
            if count[0] == 1:
                self.post("stores/two/lost", {"reason": "overboard"})

        with patch.object(removing, "_A_BATCH", 1), patch.object(FolderSource, "remove", lose):
            removal = self.take_off()
        self.assertEqual((count[0], len(self.ours())), (1, 3), "the rule is judged anew for each batch")
        self.assertIn("3 files may not go any more", removal.outcome)

    def test_a_worker_that_dies_in_the_middle_leaves_what_is_true(self):
        real, count = FolderSource.remove, [0]

        def die(source, path, is_same):
            real(source, path, is_same)
            count[0] += 1
            if count[0] == 2:
                raise KeyboardInterrupt

        self.ask()
        with patch.object(FolderSource, "remove", die), self.assertRaises(KeyboardInterrupt):
            removing.carry_out(Removal.objects.get().pk)
        self.assertEqual(RemovedFile.objects.filter(removed_at=None).count(), 1, "gone from the card, not written down")
        self.assertEqual(len(self.ours()), 2)
        removing.carry_out(Removal.objects.get().pk)
        self.assertEqual((self.ours(), Removal.objects.get().end), ([], "well"))
        self.assertFalse(RemovedFile.objects.filter(removed_at=None).exists())
        self.assertEqual(RemovedFile.objects.count(), 4)

    def test_one_that_dies_before_a_file_went_leaves_nothing_that_says_it_did(self):
        self.ask()
        with patch.object(FolderSource, "remove", side_effect=KeyboardInterrupt), self.assertRaises(KeyboardInterrupt):
            removing.carry_out(Removal.objects.get().pk)
        self.assertEqual((RemovedFile.objects.count(), len(self.ours())), (1, 4))
        removing.carry_out(Removal.objects.get().pk)
        self.assertEqual((RemovedFile.objects.exclude(removed_at=None).count(), RemovedFile.objects.count()), (4, 4))

    def test_a_card_that_does_not_let_go_keeps_its_files_and_says_so(self):
        with patch("ruggedraft.core.sources.folder.os.unlink", side_effect=OSError(30, "Read-only file system")):
            removal = self.take_off()
        self.assertEqual((len(self.ours()), removal.end), (4, "trouble"))
        self.assertIn("could not be taken off the card (Read-only file system)", removal.outcome)

    def test_what_came_onto_the_card_since_it_was_shown_stays(self):
        self.ask()
        make.add_file(self.card_folder, "DCIM/100SKERR/NEW.JPG", b"new", SHOT)
        self.run_all()
        self.assertEqual([path[-7:] for path in self.ours()], ["NEW.JPG"])

    def test_a_pulled_card_ends_it(self):
        self.ask()
        self.put_in("A-01")
        self.run_all()
        self.assertEqual((Removal.objects.get().end, len(self.ours())), ("pulled", 4))

    def test_it_is_refused_unless_everything_is_as_it_has_to_be(self):
        self.refused(self.ask(tag="A002"), "You typed 'A002'")
        self.refused(self.ask(count=3), "look again")
        self.refused(self.ask(digest="other"), "look again")
        self.assertEqual(self.ask(self.pip).status_code, 403)
        Production.objects.update(removal_allowed=False)
        self.refused(self.ask(), "does not allow files to be removed")
        Production.objects.update(removal_allowed=True)
        self.hold("roll", "A001", "wait")
        self.assertEqual(self.get("cards/A-01")["removable"]["files"], 0)
        self.refused(self.ask(), "No file of card A-01 is safe enough")
        self.post(f"clearing/holds/{self.standing()['holds'][0]['id']}", method="delete")
        Copy.objects.get(store__name="one").look.delete()
        self.refused(self.ask(), "Look at the copies first")
        self.assertEqual(len(self.ours()), 4)

    def test_two_people_where_the_rule_asks_for_two(self):
        self.post("setup/rule", {"signers": 2, "reason": "so"}, self.sol, method="patch")
        self.assertEqual(self.ask().status_code, 200)
        self.assertTrue(self.get("cards/A-01")["removable"]["waits_for_second"])
        self.assertFalse(Removal.objects.exists())
        self.ask()
        self.assertFalse(Removal.objects.exists(), "the same person twice is one person")
        self.ask(self.sol)
        self.assertEqual(Removal.objects.get().second, self.wren)
        self.post(f"runs/{Removal.objects.get().pk}/cancel")
        self.run_all()
        self.assertEqual((Removal.objects.get().end, len(self.ours())), ("cancelled", 4))
        self.ask(self.sol)
        self.assertEqual(Removal.objects.count(), 1, "what somebody wanted was done: it is wanted anew by two")
        self.ask()
        self.run_all()
        self.assertEqual(self.ours(), [])

    def test_what_the_first_wanted_is_not_what_the_second_sees(self):
        self.post("setup/rule", {"signers": 2, "reason": "so"}, self.sol, method="patch")
        self.ask()
        self.post("setup/rule", {"shelf_days": 30, "reason": "so"}, self.sol, method="patch")
        self.assertFalse(self.get("cards/A-01")["removable"]["waits_for_second"])
        self.ask(self.sol)
        self.assertFalse(Removal.objects.exists())

    def test_who_ran_the_offload_is_not_the_only_other_one(self):
        """As for a signature: two people who both ran it are nobody else."""
        self.post("setup/rule", {"signers": 2, "reason": "so"}, self.sol, method="patch")
        run = Offload.objects.latest("pk")
        Offload.objects.create(
            subject="again", roll=run.roll, station=run.station, person=self.sol, asked_at=run.asked_at, card=run.card,
            started_at=run.asked_at, finished_at=run.asked_at, end="well", algorithm=run.algorithm, kind="offload",
            queue="cards",
        )  # fmt: skip
        self.ask(self.sol)
        self.ask()
        self.assertEqual(Removal.objects.count(), 0)
        self.ask(self.person("ada", Role.WRANGLER))
        self.assertEqual(Removal.objects.count(), 1)

    def test_asked_for_twice_it_is_done_once_and_nothing_is_offloaded_meanwhile(self):
        self.ask()
        self.refused(self.start(), "Files are being taken off card A-01")
        self.refused(self.ask(), "already")

    def test_a_production_allows_it_only_by_a_supervisor(self):
        words = {name: self.get("setup")[name] for name in ("time_zone", "first_day", "day_starts_at")}
        answer = self.post("setup/production", {**words, "removal_allowed": False}, method="put")
        self.assertEqual(answer.status_code, 403)
        self.assertTrue(self.get("setup")["removal_allowed"])
        self.post("setup/production", {**words, "removal_allowed": False}, self.sol, method="put")
        self.assertFalse(self.get("setup")["removal_allowed"])
