"""A program of the station's after an offload: told what is verified where, limited, shown, and no part of the run."""

import json
import os
import time
from datetime import timedelta
from pathlib import Path
from unittest.mock import patch

from django.conf import settings
from django.test import TestCase, override_settings

from ruggedraft.offloads import after
from ruggedraft.offloads.after import go_after
from ruggedraft.offloads.models import AfterRun, Offload
from ruggedraft.standins import hub

from .deciding import Deciding


class After(Deciding, TestCase):
    def setUp(self):
        super().setUp()
        there = override_settings(AFTER_RUN=self.base / "after-run")
        there.enable()
        self.addCleanup(there.disable)
        self.told = self.base / "told.json"

    def program(self, *lines: str, name: str = "go", mode: int = 0o700) -> Path:
        place = Path(settings.AFTER_RUN, name)
        place.parent.mkdir(exist_ok=True)
        place.write_text("\n".join(["#!/bin/sh", *lines, ""]))
        place.chmod(mode)
        return place

    def name_it(self, name: str = "go") -> int:
        return self.change_plan(after_program=name)

    def after(self) -> AfterRun:
        self.assertEqual(go_after(self.station), 1)
        return AfterRun.objects.select_related("offload").get()

    def test_it_is_told_what_is_verified_where_and_what_it_said_is_kept(self):
        self.program(f"cat > {self.told}", "echo made; echo oddly >&2")
        self.assertEqual(self.name_it(), 200)
        self.offload()
        one = self.after()
        self.assertEqual((one.code, one.output, one.trouble), (0, "made\noddly\n", ""))
        told = json.loads(self.told.read_text())
        self.assertEqual((told["roll"], told["card"], told["files"]), ("A001", "A-01", 4))
        for copy, store in zip(told["copies"], ("one", "two"), strict=True):
            self.assertEqual((copy["store"], copy["read_back"]), (store, True))
            self.assertTrue((Path(copy["folder"]) / "DCIM").is_dir())
            self.assertTrue(copy["lists"] and all(Path(one).is_file() for one in copy["lists"]))
        (shown,) = self.get("runs/after/A001")
        self.assertEqual((shown["program"], shown["code"], shown["output"]), ("go", 0, "made\noddly\n"))
        self.assertEqual(go_after(self.station), 0, "once an offload")

    def test_what_was_offloaded_before_the_plan_named_it_is_left_alone(self):
        self.program("true")
        self.offload()
        self.name_it()
        self.assertEqual(go_after(self.station), 0)

    def test_after_a_run_that_did_not_end_well_nothing_is_started(self):
        self.program("true")
        self.name_it()
        with patch("ruggedraft.offloads.running.open_usable", side_effect=self._only_one()):
            self.offload()
        self.assertNotEqual(Offload.objects.get().end, "well")
        self.assertEqual(go_after(self.station), 0)

    def _only_one(self):
        from ruggedraft.core.errors import StoreVanished
        from ruggedraft.stores.opening import open_usable

        def opened(store):
            if store.name == "two":
                raise StoreVanished("'two' is not connected")
            return open_usable(store)

        return opened

    def test_a_failure_is_shown_and_changes_nothing(self):
        self.program("echo no; exit 7")
        self.name_it()
        self.offload()
        before = self.get("tally/rolls/A001")["roll"]["state"]
        self.assertEqual((self.after().code, self.get("tally/rolls/A001")["roll"]["state"]), (7, before))
        self.assertEqual(before, "safe")
        self.assertIn("ended with 7", self.get("log?text=ended+with+7")["entries"][0]["sentence"])

    def test_it_has_a_time_limit_and_takes_its_children_with_it(self):
        mark = self.base / "later"
        self.program(f"(sleep 2; touch {mark}) &", "sleep 60")
        self.name_it()
        self.offload()
        with patch.object(after, "LIMIT", timedelta(seconds=0.5)):
            one = self.after()
        self.assertIsNone(one.code)
        self.assertIn("it was stopped", one.trouble)
        time.sleep(2.5)
        self.assertFalse(mark.exists())

    def test_only_the_last_of_much_output_is_kept_whatever_bytes_it_is_of(self):
        self.program("head -c 300000 /dev/urandom", "echo the end")
        self.name_it()
        self.offload()
        one = self.after()
        self.assertLess(len(one.output), 30_000)
        self.assertTrue(one.output.endswith("the end\n"))

    def test_what_is_no_program_of_the_owners_alone_is_not_started_and_told(self):
        self.name_it("gone")
        self.offload()
        self.assertIn("there is no gone", self.after().trouble)
        for n, make in enumerate((lambda: self.program("true", mode=0o600), lambda: self.program("true", mode=0o722),
                                  lambda: self._link())):  # fmt: skip
            AfterRun.objects.all().delete()
            Path(settings.AFTER_RUN, "gone").unlink(missing_ok=True)
            made = make()
            if made.name != "gone":
                made.rename(made.with_name("gone"))
            one = self.after()
            self.assertTrue(one.trouble, n)
            self.assertIsNone(one.code)

    def _link(self) -> Path:
        place = Path(settings.AFTER_RUN, "gone")
        place.symlink_to("/bin/true")
        return place

    def test_a_plan_names_a_file_and_no_path(self):
        for name in ("../go", "a/b", "/bin/true", ".hidden", "x" * 81, "a\nb"):
            self.assertEqual(self.name_it(name), 409, name)

    def test_it_knows_neither_the_ledgers_address_nor_a_key(self):
        self.program("env")
        self.name_it()
        self.offload()
        with patch.dict(os.environ, {"RAFT_STORE_KEY": "secret-of-ours"}):
            self.assertNotIn("RAFT_", self.after().output)

    def test_one_that_a_killed_worker_left_is_told_and_not_started_again(self):
        self.program(f"touch {self.told}")
        self.name_it()
        self.offload()
        AfterRun.objects.create(
            offload=Offload.objects.get(), program="go", started_at=Offload.objects.get().finished_at
        )
        self.assertEqual(go_after(self.station), 0)
        self.assertIn("broken off", AfterRun.objects.get().trouble)
        self.assertFalse(self.told.exists())

    def test_a_store_that_is_away_has_no_folder(self):
        self.program(f"cat > {self.told}")
        self.name_it()
        self.offload()
        (hub.home() / "drives" / "two").rename(self.base / "away")
        self.after()
        self.assertEqual([one["folder"] is None for one in json.loads(self.told.read_text())["copies"]], [False, True])
