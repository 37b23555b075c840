"""Daily backups of the ledger: to the stores that people chose, once a day, and never half."""

from datetime import timedelta
from unittest.mock import patch

from django.core.management import call_command
from django.db import connection
from django.test import TransactionTestCase

from ruggedraft.bootstrap import app, backups, nightly, postgres
from ruggedraft.bootstrap.problems import CannotGoOn
from ruggedraft.core.errors import ActRefused, NotPermitted
from ruggedraft.journal import clock
from ruggedraft.standins import hub
from ruggedraft.stores.acts.choose_backups import choose_backups
from ruggedraft.stores.backups import FOLDER, due
from ruggedraft.stores.models import LedgerBackup, Store

from .world import World


class DailyBackups(World, TransactionTestCase):
    def setUp(self):
        super().setUp()
        words = connection.settings_dict
        server = f"postgresql://{words['USER']}:{words['PASSWORD']}@{words['HOST']}:{words['PORT']}/postgres"
        self.daily = nightly.Nightly(postgres.of_database(server, words["NAME"]), {})
        key = patch.object(app, "secret_key", return_value="a key")
        key.start()
        self.addCleanup(key.stop)
        self.folder = self.drive_folder("one") / FOLDER

    def drive_folder(self, name: str):
        return hub.home() / "drives" / name

    def make(self) -> list[str]:
        """As the application does, with the commands run here."""
        made = []
        for store, folder in due():
            file = self.daily._make(folder)
            call_command("note_backup", store.name, str(file))
            made.append(store.name)
        return made

    def test_nothing_is_backed_up_where_nobody_asked_for_it(self):
        self.assertEqual(self.make(), [])

    def test_a_chosen_store_gets_one_a_day_that_can_be_restored(self):
        choose_backups(self.sol, Store.objects.get(name="one"), on=True)
        self.assertEqual(self.make(), ["one"])
        self.assertEqual(self.make(), [], "not twice a day")
        file = next(self.folder.glob("*.raft"))
        self.assertEqual(LedgerBackup.objects.get().file, f"{FOLDER}/{file.name}")
        dump, key = backups._taken_out(file, self.base)
        self.assertTrue(dump.stat().st_size)
        self.assertEqual(key, "a key")
        store = next(one for one in self.get("stores") if one["name"] == "one")
        self.assertTrue(store["keeps_backups"] and store["backed_up_at"])
        with clock.at(clock.now() + timedelta(hours=25)):
            self.assertEqual([one.name for one, _ in due()], ["one"])

    def test_old_ones_go_and_what_is_not_ours_stays(self):
        choose_backups(self.sol, Store.objects.get(name="one"), on=True)
        self.folder.mkdir()
        theirs = self.folder / "keep me.raft"
        theirs.write_text("somebody's")
        named_alike = self.folder / "ledger-of-the-shoot.raft"
        named_alike.write_text("somebody's too")
        for day in range(1, nightly.KEPT + 5):
            (self.folder / f"ledger-2026-05-{day:02}-030000.raft").write_text("old")
        self.make()
        self.assertEqual(len(list(self.folder.glob("ledger-2*.raft"))), nightly.KEPT)
        self.assertEqual(named_alike.read_text(), "somebody's too")
        self.assertEqual(theirs.read_text(), "somebody's")

    def test_a_drive_that_is_full_or_gone_gets_none_and_claims_none(self):
        choose_backups(self.sol, Store.objects.get(name="one"), on=True)
        full = patch.object(backups, "write_backup", side_effect=CannotGoOn("No space left on device"))
        with full, self.assertRaises(CannotGoOn):
            self.make()
        self.assertEqual(LedgerBackup.objects.count(), 0)
        self.drive_folder("one").rename(self.base / "taken away")
        self.assertEqual(list(due()), [])

    def test_only_who_may_set_up_chooses_and_never_this_computers_own_disk(self):
        for person in (self.wren, self.pip):
            with self.assertRaises(NotPermitted):
                choose_backups(person, Store.objects.get(name="one"), on=True)
        Store.objects.filter(name="one").update(system_disk_reason="there is no other")
        with self.assertRaises(ActRefused):
            choose_backups(self.sol, Store.objects.get(name="one"), on=True)
