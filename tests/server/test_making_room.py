"""Making room on a store: what may go, that each file was read back elsewhere first, and that it comes back."""

import os
import subprocess
from dataclasses import replace
from datetime import timedelta
from unittest.mock import patch

from django.test import TestCase

from ruggedraft.choosing.acts.mark_clip import mark_clip
from ruggedraft.core.choosing import MarkKind
from ruggedraft.core.errors import ActRefused, StoreVanished
from ruggedraft.core.evidence import Evidence, Result
from ruggedraft.core.redundancy import RollState
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.transfer import FileFailure
from ruggedraft.intake.watching import look
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.making_room import running
from ruggedraft.making_room.models import MakingRoom, TakenOff
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.feeding import carry_out as run_feed
from ruggedraft.offloads.models import Feed
from ruggedraft.productions.models import RedundancyRule
from ruggedraft.rolls.acts.say_delivered import say_delivered
from ruggedraft.rolls.models import Copy, CopyLook, Delivery, Origin, Reading
from ruggedraft.rolls.recording import begin, record_reading
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.runs.acts.cancel_run import cancel_run
from ruggedraft.standins import card_maker, hub
from ruggedraft.stores.models import Store

from .world import FILES, SHOT, World

ONE, TWO = "DCIM/100AAAAA/AAAA0001.JPG", "DCIM/100AAAAA/AAAA0002.JPG"


class Room(World):
    """A roll on three drives, where its rule asks for two, and that was delivered seven months ago."""

    def setUp(self):
        super().setUp()
        self.plan.stores.set(Store.objects.filter(name__in=("one", "two", "three")))
        self.roll = self.offload()
        self.look_at_everything()
        self.deliver(days=215)
        self.lead = self.person("Lea", "lead")

    def deliver(self, *, days: int) -> None:
        say_delivered(self.wren, self.production, [self.roll.tag], "the client")
        Delivery.objects.update(at=now() - timedelta(days=days))

    def room(self, store: str = "three", months: int = 6, **words) -> dict:
        asked = "&".join(f"{name}={value}" for name, value in words.items())
        return self.get(f"room?store={store}&months={months}&{asked}")

    def stays(self, **words) -> str:
        """Why the roll stays."""
        found = self.room(**words)
        self.assertEqual(found["going"], [])
        return found["staying"][0]["reason"]

    def ask(self, store: str = "three", *, shown: dict | None = None, **words):
        shown = shown or self.room(store)["going"][0]
        rolls = [{name: shown[name] for name in ("tag", "files", "bytes")}]
        return self.post("room", {"store": store, "months": 6, "rolls": rolls, **words}, self.lead)

    def make_room(self, store: str = "three", **words) -> MakingRoom:
        answer = self.ask(store, **words)
        self.assertEqual(answer.status_code, 200, answer.content)
        return self.carry_out()

    def carry_out(self) -> MakingRoom:
        run = MakingRoom.objects.latest("pk")
        running.carry_out(run.pk)
        run.refresh_from_db()
        return run

    def there(self, store: str = "three") -> list[str]:
        folder = self.on_drive(store)
        return sorted(str(one.relative_to(folder)) for one in folder.rglob("*") if one.is_file())

    def standing(self) -> dict[str, tuple[int, int, int]]:
        """By store, how many files are held, missing and broken; the summaries say the same."""
        (full,) = roll_standings([self.roll.pk], in_full=True).values()
        self.assertEqual(roll_standings([self.roll.pk]), {self.roll.pk: full}, "and so say the summaries")
        return {
            one.store.name: (one.facts.files, one.facts.missing_files, one.facts.broken_files) for one in full.copies
        }

    def as_on_card(self, path: str, store: str) -> bool:
        there = self.on_drive(store) / path
        return subprocess.run(["cmp", "-s", str(self.card_folder / path), str(there)], check=False).returncode == 0


class WhatMayGo(Room, TestCase):
    def test_a_copy_that_the_rule_does_not_need_of_what_was_delivered_long_ago(self):
        found = self.room()
        self.assertEqual(
            [(one["tag"], one["files"], one["bytes"], one["kept"]) for one in found["going"]],
            [("A001", len(FILES), sum(map(len, FILES.values())), 0)],
        )
        self.assertEqual((found["bytes"], found["undelivered"], found["more"]), (found["going"][0]["bytes"], 0, False))
        self.assertEqual(self.there(), sorted([*FILES, *self.beside()]), "and nothing was changed by asking")

    def beside(self) -> list[str]:
        return [one for one in self.there() if one not in FILES]

    def test_what_was_delivered_later_or_not_at_all_does_not(self):
        found = self.room(months=8)
        self.assertEqual((found["going"], found["staying"], found["undelivered"]), ([], [], 0))
        Delivery.objects.update(withdrawn_at=now())
        found = self.room(months=0)
        self.assertEqual((found["going"], found["staying"], found["undelivered"]), ([], [], 1))
        Delivery.objects.update(withdrawn_at=None, at=now() + timedelta(days=1))
        self.assertEqual(self.room(months=0)["going"], [], "a date in the future is none")

    def test_a_copy_that_the_rule_needs_stays_and_it_says_why(self):
        self.production.rule.copies = 3
        self.production.rule.save()
        self.assertEqual(self.stays(), "its rule is not met without this copy: 2 of 3 copies that count")

    def test_a_held_roll_stays(self):
        self.hold("roll", "A001", "for the archive")
        self.assertIn("for the archive", self.stays())

    def test_what_nobody_could_read_back_beside_it_stays(self):
        for name in ("one", "two"):
            self.on_drive(name)
            Store.objects.get(name=name).sightings.update(online=False)
        self.assertIn("could not be read back first", self.stays())

    def test_only_what_nobody_keeps_goes_and_a_kept_clip_stays_whole(self):
        mark_clip(self.wren, self.roll, ONE, MarkKind.KEEP)
        (one,) = self.room()["going"]
        self.assertEqual((one["kept"], one["files"]), (1, len(self.of_no_kept_clip())))
        (one,) = self.room(with_kept="true")["going"]
        self.assertEqual((one["kept"], one["files"]), (0, len(FILES)))

    def of_no_kept_clip(self) -> list[str]:
        """By common practice RAW and JPEG of one picture are one: nothing of the kept base name goes."""
        return [path for path in FILES if path.startswith("DCIM") and "AAAA0001" not in path]

    def test_only_a_lead_or_supervisor_may(self):
        shown = {"tag": "A001", "files": 1, "bytes": 1}
        refused = self.post("room", {"store": "three", "months": 6, "rolls": [shown]}, self.wren)
        self.assertEqual(refused.status_code, 403)

    def test_what_is_not_as_it_was_shown_is_refused_and_so_is_asking_twice(self):
        shown = self.room()["going"][0]
        refused = self.ask(shown={**shown, "files": shown["files"] + 1})
        self.assertEqual(refused.status_code, 409)
        self.assertIn("not what you were shown", refused.json()["title"])
        self.assertEqual(self.ask(shown=shown).status_code, 200)
        refused = self.ask(shown=shown)
        self.assertIn("something is being done with it", refused.json()["title"])
        self.assertEqual(MakingRoom.objects.count(), 1)


class TakingOff(Room, TestCase):
    def test_every_file_goes_after_it_was_read_back_elsewhere_and_the_others_still_hold_it(self):
        before = Reading.objects.latest("pk").pk
        run = self.make_room()
        self.assertEqual((run.end, self.there()), ("well", []))
        self.assertFalse(self.on_drive("three").exists(), "no empty folders are left")
        self.assertEqual(
            run.outcome,
            f"A001 on 'three': {len(FILES)} files taken off (603 kB), each read back on another store first; "
            "nothing of it is kept there any more.",
        )
        self.assertEqual(self.standing(), {"one": (len(FILES), 0, 0), "two": (len(FILES), 0, 0)})
        read, off = Reading.objects.filter(pk__gt=before).order_by("pk")
        self.assertEqual((read.copy.store.name, read.came_of, read.agreed_files), ("one", "check", len(FILES)))
        self.assertEqual((off.copy.store.name, off.came_of, off.after), ("three", "room", read.pk))
        self.assertEqual(self.get("tally")["rolls"][0]["state"], RollState.SAFE)
        acts = JournalEntry.objects.filter(act__endswith="room").order_by("pk").values_list("act", flat=True)
        self.assertEqual(list(acts), ["ask making room", "finish make room"])
        self.assertTrue(all(self.as_on_card(path, "one") for path in FILES))

    def test_it_is_brought_back_from_the_others_and_counts_again(self):
        self.make_room()
        self.assertTrue(self.room()["runs"][0]["off"])
        self.assertFalse(
            CopyLook.objects.filter(copy__store__name="three").exists(), "a look saw what is there no more"
        )
        answer = self.post(f"bench/rolls/{self.roll.pk}/bring", {"store": "three"})
        self.assertEqual(answer.status_code, 200, answer.content)
        run_feed(Feed.objects.latest("pk").pk)
        self.assertEqual(self.standing()["three"], (len(FILES), 0, 0))
        self.assertTrue(all(self.as_on_card(path, "three") for path in FILES))
        self.assertFalse(self.room()["runs"][0]["off"])

    def test_what_somebody_keeps_stays_and_what_is_off_is_neither_missed_nor_mended(self):
        mark_clip(self.wren, self.roll, ONE, MarkKind.KEEP)
        run = self.make_room()
        stays = [path for path in FILES if path not in self.gone()]
        self.assertEqual(run.end, "well", run.outcome)
        self.assertIn(ONE, stays)
        self.assertNotIn(TWO, stays)
        self.assertEqual([path for path in self.there() if path in FILES], sorted(stays))
        self.assertEqual(self.standing()["three"], (len(stays), len(FILES) - len(stays), 0))
        plank = next(one for one in self.get("tally")["rolls"][0]["planks"] if one["store"] == "three")
        self.assertEqual(plank["state"], "partial")
        self.check(self.roll, "three")
        self.assertEqual(self.roll.runs.latest("pk").end, "well", "a check does not miss what was taken off")
        self.look_at_everything()
        self.assertEqual(self.standing()["three"], (len(stays), len(FILES) - len(stays), 0))
        self.on_drive("three").joinpath(ONE).unlink()
        self.look_at_everything()
        self.assertEqual(self.standing()["three"][2], 1, "what was to stay is missed")

    def gone(self) -> set[str]:
        return set(TakenOff.objects.exclude(removed_at=None).values_list("file__path", flat=True))

    def test_nothing_goes_where_the_other_copy_turns_out_to_be_rotten(self):
        for name in ("one", "two"):
            path = self.on_drive(name) / ONE
            was = path.stat()
            path.write_bytes(b"rotten".ljust(was.st_size, b"!"))
            os.utime(path, ns=(was.st_atime_ns, was.st_mtime_ns))
        run = self.make_room()
        self.assertEqual(run.end, "trouble")
        self.assertIn("its rule is not met without this copy", run.outcome)
        self.assertTrue(all(self.as_on_card(path, "three") for path in FILES))
        self.assertEqual(self.standing()["three"], (len(FILES), 0, 0))

    def test_a_file_that_is_not_what_was_copied_stays(self):
        path = self.on_drive("three") / ONE
        was = path.stat()
        path.write_bytes(b"mine".ljust(was.st_size, b"!"))
        os.utime(path, ns=(was.st_atime_ns, was.st_mtime_ns))
        run = self.make_room()
        self.assertEqual((run.end, [one for one in self.there() if one in FILES]), ("trouble", [ONE]))
        self.assertIn(f"1 file stays, such as {ONE}: it is not what was copied", run.outcome)
        self.assertEqual(self.standing()["three"], (0, len(FILES), 0), "and nothing is claimed of it")

    def test_what_was_added_beside_a_copy_stays(self):
        note = self.on_drive("three") / "DCIM/100AAAAA/notes.txt"
        note.write_text("the client's")
        run = self.make_room()
        self.assertEqual((run.end, self.there()), ("well", ["DCIM/100AAAAA/notes.txt"]))

    def test_a_drive_lost_while_another_copy_was_read_stops_it(self):
        real = running.check_copy

        def and_lose(*words, **more):
            report = real(*words, **more)
            self.post("stores/two/lost", {"reason": "overboard"})
            return report

        with patch.object(running, "check_copy", and_lose):
            run = self.make_room()
        self.assertEqual((run.end, len([one for one in self.there() if one in FILES])), ("trouble", len(FILES)))
        self.assertIn("its rule is not met without this copy: 1 of 2 copies", run.outcome)

    def test_two_stores_that_turn_out_to_be_one_place_cost_one_file_and_no_more(self):
        real = LocalStore.withdraw

        def both(store, path):
            real(store, path)
            (self.on_drive("one") / path.partition("A001/")[2]).unlink(missing_ok=True)

        with patch.object(LocalStore, "withdraw", both):
            run = self.make_room()
        self.assertEqual(run.end, "trouble")
        self.assertIn("have that copy checked", run.outcome)
        gone = [path for path in FILES if not (self.on_drive("one") / path).exists()]
        self.assertEqual(len(gone), 1)
        self.assertTrue(self.as_on_card(gone[0], "two"))

    def test_nothing_is_brought_there_while_files_are_being_taken_off(self):
        """It would find what is about to go, and claim it."""
        self.assertEqual(self.ask().status_code, 200)
        self.on_drive("three").joinpath(ONE).unlink()
        self.look_at_everything()
        refused = self.post(f"bench/rolls/{self.roll.pk}/bring", {"store": "three"})
        self.assertEqual((refused.status_code, "Room is being made" in refused.json()["title"]), (409, True))
        card_maker.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0009.JPG", b"new", SHOT)
        hub.remove("slot-1")
        look(self.station)
        hub.insert("A-01", "slot-1")
        look(self.station)
        with self.assertRaisesRegex(ActRefused, "Room is being made"):
            start_offload(self.wren, self.card, "A001")
        self.carry_out()
        self.offload()

    def test_what_a_run_left_half_way_is_counted_once(self):
        self.assertEqual(self.ask().status_code, 200)
        with StoppedHalfWay.stop_after(self, 1, StoreVanished("'three' is gone")):
            self.carry_out()
        self.post(f"bench/rolls/{self.roll.pk}/bring", {"store": "three"})
        run_feed(Feed.objects.latest("pk").pk)
        self.assertEqual(self.make_room().end, "well")
        self.assertEqual((self.room()["going"], self.room()["staying"]), ([], []))
        self.assertEqual(TakenOff.objects.filter(removed_at=None).count(), 0)

    def test_a_stricter_rule_since_stops_it_though_it_was_asked_for_before(self):
        real = running.check_copy

        def and_ask_for_more(*words, **more):
            report = real(*words, **more)
            RedundancyRule.objects.update(copies=3)
            return report

        with patch.object(running, "check_copy", and_ask_for_more):
            run = self.make_room()
        self.assertIn("2 of 3 copies that count", run.outcome)
        self.assertEqual(len([one for one in self.there() if one in FILES]), len(FILES))

    def test_a_drive_lost_between_two_files_costs_no_further_one(self):
        real, lost = LocalStore.withdraw, []

        def and_lose(store, path):
            real(store, path)
            if not lost:
                lost.append(self.post("stores/two/lost", {"reason": "overboard"}).status_code)

        with patch.object(LocalStore, "withdraw", and_lose):
            run = self.make_room()
        self.assertEqual((lost, run.end), ([200], "trouble"))
        self.assertEqual(len([one for one in self.there() if one in FILES]), len(FILES) - 1)

    def test_what_was_only_read_from_memory_stays_and_that_is_no_good_end(self):
        real = running.check_copy

        def cached(*words, **more):
            return replace(real(*words, **more), level=Evidence.WRITTEN)

        with patch.object(running, "check_copy", cached):
            run = self.make_room()
        self.assertEqual((run.end, len([one for one in self.there() if one in FILES])), ("trouble", len(FILES)))
        self.assertIn(f"{len(FILES)} files stay as before", run.outcome)
        self.assertEqual(self.standing()["three"], (len(FILES), 0, 0))

    def test_no_check_begins_meanwhile(self):
        self.assertEqual(self.ask().status_code, 200)
        refused = self.post(f"copies/{self.roll.copies.first().pk}/check")
        self.assertEqual((refused.status_code, "Room is being made" in refused.json()["title"]), (409, True))

    def test_a_file_kept_since_stays(self):
        self.assertEqual(self.ask().status_code, 200)
        mark_clip(self.wren, self.roll, TWO, MarkKind.KEEP)
        self.carry_out()
        self.assertIn(TWO, self.there())

    def test_a_hold_or_a_delivery_taken_back_since_stops_it(self):
        self.assertEqual(self.ask().status_code, 200)
        Delivery.objects.update(withdrawn_at=now(), withdrawn_by=self.wren)
        run = self.carry_out()
        self.assertIn("it was not delivered", run.outcome)
        self.assertEqual(len([one for one in self.there() if one in FILES]), len(FILES))


class StoppedHalfWay(Room, TestCase):
    def stop_after(self, files: int, error: BaseException):
        """The station's worker, or the drive, is gone after so many files."""
        real, count = LocalStore.withdraw, iter(range(1000))

        def withdraw(store, path):
            if next(count) == files:
                raise error
            real(store, path)

        return patch.object(LocalStore, "withdraw", withdraw)

    def test_a_worker_that_dies_in_the_middle_leaves_no_claim_and_the_next_goes_on(self):
        self.assertEqual(self.ask().status_code, 200)
        with self.stop_after(1, KeyboardInterrupt()), self.assertRaises(KeyboardInterrupt):
            self.carry_out()
        self.assertEqual(self.standing()["three"], (0, len(FILES), 0), "claimed is nothing")
        self.assertEqual(len([one for one in self.there() if one in FILES]), len(FILES) - 1, "there is most of it")
        read = Reading.objects.filter(copy__store__name="one").count()
        run = self.carry_out()
        self.assertEqual((run.end, self.there()), ("well", []))
        self.assertEqual(Reading.objects.filter(copy__store__name="one").count(), read, "nothing is read back twice")

    def test_a_drive_that_is_pulled_is_told_and_what_lies_there_still_can_go_later(self):
        with self.stop_after(1, StoreVanished("'three' is gone")):
            run = self.make_room()
        left = len(FILES) - 1
        self.assertEqual(run.end, "trouble")
        self.assertIn(f"{left} files may still lie there, counted for nothing; 'three' is gone", run.outcome)
        self.assertEqual(Copy.every.get(store__name="three").left_at, None)
        self.assertEqual(self.room()["going"][0]["files"], left)
        self.assertEqual((self.make_room().end, self.there()), ("well", []))

    def test_one_that_is_cancelled_while_it_waits_takes_nothing_off(self):
        self.assertEqual(self.ask().status_code, 200)
        cancel_run(self.lead, MakingRoom.objects.get())
        run = self.carry_out()
        self.assertEqual(run.end, "cancelled")
        self.assertIn("A001 on 'three': 0 files taken off; 4 files stay as before", run.outcome)
        self.assertEqual(self.standing()["three"], (len(FILES), 0, 0))

    def test_it_is_brought_back_with_what_still_lies_there(self):
        with self.stop_after(1, StoreVanished("'three' is gone")):
            self.make_room()
        self.post(f"bench/rolls/{self.roll.pk}/bring", {"store": "three"})
        run_feed(Feed.objects.latest("pk").pk)
        self.assertEqual(self.standing()["three"], (len(FILES), 0, 0))

    def test_a_reading_that_began_before_does_not_bring_it_back(self):
        """A check overlaps: what it found before the files went is no claim afterwards, and nothing is broken by it."""
        mark_clip(self.wren, self.roll, ONE, MarkKind.KEEP)
        self.assertEqual(self.ask().status_code, 200)
        began = begin()
        self.carry_out()
        copy = Copy.every.get(store__name="three")
        standing = self.standing()["three"]
        self.assertGreater(standing[1], 0)
        failed = [FileFailure(TWO, "it is not there", Result.ABSENT)]
        for agreed, bad in ((list(FILES), []), ([], failed)):
            record_reading(copy, began, agreed=agreed, failed=bad, level=Evidence.READ_BACK, origin=Origin.CHECK)
            self.assertEqual(self.standing()["three"], standing)
