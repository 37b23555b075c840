"""What is done by itself: standing orders, reading again, mending. What a person sees of it is what is so."""

import os
from datetime import UTC, datetime, timedelta
from unittest.mock import patch

from django.test import TestCase

from ruggedraft.checks import running
from ruggedraft.checks.models import CheckRun
from ruggedraft.checks.running import carry_out as run_check
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.runs import RunEnd
from ruggedraft.crew.models import Role
from ruggedraft.intake.models import Card
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.journal.models import JournalEntry
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.feeding import carry_out as run_feed
from ruggedraft.offloads.models import Feed
from ruggedraft.offloads.proposal import propose
from ruggedraft.rolls.acts.report_loss import report_loss
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.runs.acts.cancel_run import cancel_run
from ruggedraft.runs.models import RunQueue
from ruggedraft.standins import hub
from ruggedraft.standins.drives import make_drive
from ruggedraft.stores.acts.sight_stores import sight_stores
from ruggedraft.upkeep import orders
from ruggedraft.upkeep.keeping_up import keep_up

from .world import FILES, World

NIGHT = {"begins": 22 * 60, "ends": 6 * 60}


def today(hour: int, minute: int = 0) -> datetime:
    """Tomorrow's, so that everything done so far in a test was before."""
    return (datetime.now(UTC) + timedelta(days=1)).replace(hour=hour, minute=minute)


class Upkeep(World, TestCase):
    def order(self, to: str = "three", person=None, **more):
        return self.post("upkeep/orders", {"to": to, **more}, person or self.sol)

    def care(self, store: str, **more):
        return self.post(f"upkeep/stores/{store}", more, self.sol, method="put")

    def standing_order(self) -> dict:
        (one,) = self.get("upkeep")["orders"]
        return one

    def care_of(self, store: str) -> dict:
        return next(one for one in self.get("upkeep")["cares"] if one["store"] == store)

    def keep_up(self) -> list:
        """As the station does, and what it begins is carried out."""
        begun = keep_up(self.station)
        for run in begun:
            run_feed(run.pk) if isinstance(run, Feed) else run_check(run.pk)
        return begun

    def roll_counts(self, store: str) -> bool:
        (standing,) = roll_standings([Roll.objects.get().pk]).values()
        (copy,) = (one.facts for one in standing.copies if one.facts.store.name == store)
        return not copy.broken_files

    def rot(self, store: str, name: str = "DCIM/100AAAAA/AAAA0001.JPG") -> None:
        """One bit of a file turns, and its time stays."""
        path = self.on_drive(store) / name
        path.chmod(0o644)
        content, times = bytearray(path.read_bytes()), path.stat()
        content[7] ^= 1
        path.write_bytes(content)
        os.utime(path, ns=(times.st_atime_ns, times.st_mtime_ns))


class StandingOrders(Upkeep):
    def test_a_long_backlog_is_looked_at_a_piece_at_a_time_and_all_of_it_is_brought(self):
        self.offload()
        for n in range(2, 5):
            card, _ = self.new_card(f"A-0{n}", {f"f{n}": bytes([n])})
            hub.insert(card.label, "slot-2")
            look(self.station)
            self.offload(card)
            hub.remove("slot-2")
            look(self.station)
        self.order()
        with patch.object(orders, "_COUNTED", 2):
            told = self.standing_order()
            self.assertEqual((told["rolls"], told["more"]), (2, True))
            self.assertEqual([self.keep_up()[0].roll.tag for _ in range(4)], ["A001", "A002", "A003", "A004"])
            told = self.standing_order()
            self.assertEqual((told["rolls"], told["more"], self.keep_up()), (0, False, []))

    def test_what_is_verified_goes_on_by_itself_and_nothing_is_behind_then(self):
        self.assertEqual(self.order().status_code, 200)
        self.assertEqual(self.standing_order()["rolls"], 0, "nothing is verified yet")
        self.offload()
        told = self.standing_order()
        self.assertEqual((told["rolls"], told["under_way"], told["why"]), (1, 0, ""))
        self.assertEqual(told["bytes"], sum(map(len, FILES.values())))
        (run,) = self.keep_up()
        self.assertEqual((run.person, run.queue), (self.sol, RunQueue.FEEDS))
        copy = Copy.objects.get(store__name="three")
        (standing,) = roll_standings([copy.roll_id]).values()
        facts = next(one.facts for one in standing.copies if one.id == copy.pk)
        self.assertEqual((facts.whole, facts.level), (True, Evidence.READ_BACK))
        self.assertEqual(self.standing_order()["rolls"], 0)
        self.assertEqual(self.keep_up(), [])
        readings = self.get("tally/rolls/A001")["readings"]
        self.assertEqual(
            [(one["store"], one["source"]) for one in readings], [("three", "one"), ("two", ""), ("one", "")],
            "by which path a copy came",
        )  # fmt: skip

    def test_it_waits_for_its_hours_and_says_so(self):
        self.order(**NIGHT, rate=20_000_000)
        self.offload()
        with clock.at(today(21, 59)):
            self.assertEqual(self.keep_up(), [])
            self.assertEqual(self.standing_order()["why"], "it waits until 22:00")
        with clock.at(today(22, 0)):
            sight_stores(self.station)
            self.assertEqual(self.standing_order()["why"], "")
            (run,) = self.keep_up()
        self.assertEqual(run.rate, 20_000_000)

    def test_hours_are_those_of_the_production(self):
        self.production.time_zone = "Pacific/Auckland"
        self.production.save()
        self.order(**NIGHT)
        self.offload()
        with clock.at(datetime(2030, 6, 1, 11, 0, tzinfo=UTC)):  # 23:00 there, NZST is UTC+12 (IANA time zone database)
            self.assertEqual(self.standing_order()["why"], "")
        with clock.at(datetime(2030, 6, 1, 23, 0, tzinfo=UTC)):
            self.assertEqual(self.standing_order()["why"], "it waits until 22:00")

    def test_only_what_is_verified_where_the_order_says(self):
        self.order(from_place="office")
        self.offload()
        self.assertEqual((self.standing_order()["rolls"], self.keep_up()), (0, []))
        self.drives["one"].device.location = self.office
        self.drives["one"].device.save()
        self.assertEqual(self.standing_order()["rolls"], 1)

    def test_one_order_may_follow_another(self):
        self.drive("four")
        self.order("four", from_store="three")
        self.order("three")
        self.offload()
        self.assertEqual(self.keep_up()[0].copy.store.name, "three")
        self.assertEqual(self.keep_up()[0].copy.store.name, "four")
        self.assertEqual(self.keep_up(), [])

    def test_nothing_is_brought_from_a_copy_that_is_not_proven(self):
        self.offload()
        for store in ("one", "two"):
            self.rot(store)
            self.check(Copy.objects.first().roll, store)
        self.order()
        self.assertEqual((self.standing_order()["rolls"], self.keep_up()), (0, []))

    def test_a_store_that_is_away_or_lost_is_why(self):
        self.order()
        self.offload()
        hidden = hub.home() / "drives" / "hidden"
        (hub.home() / "drives" / "three").rename(hidden)
        sight_stores(self.station)
        self.assertEqual((self.standing_order()["why"], self.keep_up()), ("'three' is not connected", []))
        report_loss(self.wren, self.drives["three"].device, "fell into the creek")
        self.assertEqual((self.standing_order()["why"], self.keep_up()), ("'three' was reported lost", []))

    def test_what_met_trouble_is_tried_again_later_and_what_a_person_stopped_is_left_alone(self):
        self.order()
        self.offload()
        (run,) = keep_up(self.station)
        self.assertEqual(self.standing_order()["under_way"], 1)
        self.assertEqual(keep_up(self.station), [], "it is being brought already")
        cancel_run(self.wren, run)
        run_feed(run.pk)
        self.assertEqual(Feed.objects.get().end, RunEnd.CANCELLED)
        self.assertIn("somebody stopped its last run; it is tried again from", self.standing_order()["why"])
        self.assertEqual(keep_up(self.station), [])
        Feed.objects.update(end=RunEnd.TROUBLE)
        self.assertIn("its last run met trouble; it is tried again from", self.standing_order()["why"])
        with clock.at(datetime.now(UTC) + timedelta(minutes=16)):
            sight_stores(self.station)
            self.assertEqual(len(keep_up(self.station)), 1)

    def test_cards_go_first(self):
        self.order()
        self.offload()
        card, _ = self.new_card("A-02", {"more": b"more"})
        hub.insert("A-02", "slot-2")
        look(self.station)
        card = Card.objects.select_related("camera__production__rule", "camera__plan").get(pk=card.pk)
        start_offload(self.wren, card, propose(card).tag)
        self.assertEqual(keep_up(self.station), [])
        self.assertEqual(self.standing_order()["why"], "a card is being offloaded")

    def test_what_a_store_cannot_hold_is_told_and_the_others_go_on(self):
        """Never is something about to begin that cannot begin."""
        self.offload()
        make_drive(hub.home() / "drives" / "three", identity="three", capacity=10**9, file_system="exFAT")
        sight_stores(self.station)
        self.order()
        self.assertIn("A001: 'three' cannot hold 'line", self.standing_order()["why"])
        self.assertEqual(self.keep_up(), [])
        card, _ = self.new_card("A-02", {"plain": b"plain"})
        hub.insert("A-02", "slot-2")
        look(self.station)
        second = self.offload(card)
        self.assertEqual(self.standing_order()["why"], "")
        self.assertEqual([run.roll for run in self.keep_up()], [second])
        self.assertIn("A001: 'three' cannot hold 'line", self.standing_order()["why"])

    def test_who_gave_it_must_still_be_allowed_to_have_copies_made(self):
        self.order()
        self.offload()
        self.sol.memberships.update(role=Role.ASSISTANT)
        self.assertEqual(self.standing_order()["why"], "Sol, who gave the order, may not have copies made any more")
        self.assertEqual(self.keep_up(), [])

    def test_orders_are_given_and_withdrawn_by_name_and_refused_where_they_make_no_sense(self):
        refused = [
            (self.order(person=self.wren), 403), (self.order("nowhere"), 404), (self.order(from_place="Mars"), 404),
            (self.order(from_store="three"), 409), (self.order(rate=10), 409), (self.order(begins=5000), 409),
        ]  # fmt: skip
        for answer, status in refused:
            self.assertEqual(answer.status_code, status, answer.content)
        self.assertEqual(self.order(**NIGHT, rate=5_000_000, from_place="cart").status_code, 200)
        self.assertEqual(self.order(from_place="cart").status_code, 409, "one is there already")
        said = JournalEntry.objects.get(act="give order")
        self.assertEqual(
            said.sentence,
            "Whatever is verified at cart goes to 'three' by itself, 22:00 to 06:00, at most 5.00 MB a second.",
        )
        mine = f"upkeep/orders/{self.standing_order()['id']}"
        self.assertEqual(self.post(mine, person=self.wren, method="delete").status_code, 403)
        self.assertEqual(self.post(mine, person=self.sol, method="delete").status_code, 200)
        self.assertEqual(self.post(mine, person=self.sol, method="delete").status_code, 409)
        self.assertEqual(self.get("upkeep")["orders"], [])
        self.offload()
        self.assertEqual(self.keep_up(), [])

    def test_a_closed_production_brings_nothing_more(self):
        self.order()
        self.offload()
        self.production.closed_at = datetime.now(UTC)
        self.production.save()
        self.assertEqual(self.keep_up(), [])


class ReadingAgainAndMending(Upkeep):
    def test_copies_are_read_again_when_they_are_due_and_the_store_says_how_much_was(self):
        self.offload()
        self.assertEqual(self.care("one", check_days=7).status_code, 200)
        self.assertEqual(self.keep_up(), [], "they were read when they were written")
        told = self.care_of("one")
        self.assertEqual((told["days"], told["read"], told["copies"]), (7, told["bytes"], 1))
        self.assertEqual(told["by"], "Sol")
        with clock.at(datetime.now(UTC) + timedelta(days=7, hours=1)):
            sight_stores(self.station)
            self.assertEqual(self.care_of("one")["read"], 0)
            (run,) = self.keep_up()
            self.assertEqual((run.copy.store.name, run.queue, run.person), ("one", RunQueue.FEEDS, self.sol))
            self.assertEqual(CheckRun.objects.get().end, RunEnd.WELL)
            self.assertEqual(self.keep_up(), [])
            self.assertEqual(self.care_of("one")["read"], told["bytes"])
            self.assertEqual(self.care_of("two")["check_days"], None)

    def test_rot_is_found_and_mended_by_itself_and_the_damaged_file_is_kept(self):
        self.offload()
        name = "DCIM/100AAAAA/AAAA0001.JPG"
        right = (self.on_drive("one") / name).read_bytes()
        self.rot("one", name)
        rotten = (self.on_drive("one") / name).read_bytes()
        self.care("one", check_days=7, mends=True)
        with clock.at(datetime.now(UTC) + timedelta(days=8)):
            sight_stores(self.station)
            (check,) = self.keep_up()
            self.assertEqual(CheckRun.objects.get(pk=check.pk).end, RunEnd.TROUBLE)
            (mend,) = self.keep_up()
            self.assertEqual(Feed.objects.get(pk=mend.pk).end, RunEnd.WELL, Feed.objects.get(pk=mend.pk).outcome)
        self.assertEqual((self.on_drive("one") / name).read_bytes(), right)
        aside = [
            one
            for one in (hub.home() / "drives/one/.raft-set-aside").rglob("*")
            if one.is_file() and one.read_bytes() == rotten
        ]
        self.assertEqual(len(aside), 1, "what was damaged is kept")
        (standing,) = roll_standings([check.roll_id]).values()
        self.assertEqual([one.facts.broken_files for one in standing.copies], [0, 0])
        said = JournalEntry.objects.filter(act="ask feed").latest("id").sentence
        self.assertIn("as damage on 'one' is to be mended", said)

    def test_a_file_that_somebody_renamed_is_found_by_content_and_stays_where_it_is(self):
        self.offload()
        name = "DCIM/100AAAAA/AAAA0001.JPG"
        file = self.on_drive("one") / name
        right, renamed = file.read_bytes(), file.with_name("the best one.JPG")
        file.rename(renamed)
        self.check(Roll.objects.get(), "one")
        end = CheckRun.objects.latest("id")
        self.assertEqual(end.end, RunEnd.TROUBLE)
        self.assertIn("1 does not; the content of 1 missing file is there under another name.", end.outcome)
        (fault,) = self.get("tally/rolls/A001")["faults"]
        there = renamed.relative_to(hub.home() / "drives/one")
        self.assertEqual(
            (fault["path"], fault["reason"]), (name, f"it is missing on 'one'; its content is there as {there}")
        )
        self.assertFalse(self.roll_counts("one"), "the copy does not count for it")
        self.care("one", check_days=None, mends=True)
        (mend,) = self.keep_up()
        self.assertEqual(Feed.objects.get(pk=mend.pk).end, RunEnd.WELL)
        self.assertEqual((file.read_bytes(), renamed.read_bytes()), (right, right))

    def test_what_no_reading_can_prove_better_is_not_read_without_end(self):
        """As on a store that gives what it has from a cache: read, and no more than that."""
        self.offload()
        self.care("one", check_days=7)
        real = running.check_copy

        def from_a_cache(*words, **more):
            report = real(*words, **more)
            report.level = Evidence.WRITTEN
            return report

        with clock.at(datetime.now(UTC) + timedelta(days=8)), patch.object(running, "check_copy", from_a_cache):
            sight_stores(self.station)
            self.assertEqual(len(self.keep_up()), 1)
        with clock.at(datetime.now(UTC) + timedelta(days=9)):
            sight_stores(self.station)
            self.assertEqual(self.keep_up(), [])
        with clock.at(datetime.now(UTC) + timedelta(days=16)):
            sight_stores(self.station)
            self.assertEqual(len(self.keep_up()), 1)

    def test_a_drive_that_was_found_again_holds_nothing_by_what_was_read_before_and_is_read_first(self):
        self.offload()
        self.care("one", check_days=365)
        told = self.care_of("one")
        self.assertEqual((told["read"], self.keep_up()), (told["bytes"], []))
        self.post("stores/one/lost", {"reason": "left in the van"})
        self.post("stores/one/found")
        sight_stores(self.station)
        told = self.care_of("one")
        self.assertEqual((told["copies"], told["bytes"], told["read"]), (0, 0, 0), "nothing was read there since")
        self.assertEqual(next(one for one in self.get("stores/room") if one["store"] == "one")["held"], [])
        (run,) = self.keep_up()
        self.assertEqual(run.copy.store.name, "one")
        self.assertEqual(self.care_of("one")["copies"], 1)
        self.assertEqual(self.keep_up(), [])

    def test_damage_is_told_at_once_whatever_was_remembered(self):
        roll = self.offload()
        self.get("tally")
        self.rot("one")
        self.check(roll, "one")
        told = self.care_of("one")
        self.assertEqual((told["broken"], told["bytes"]), (1, 600_003))

    def test_what_lies_on_a_device_that_a_fault_was_found_on_is_read_before_its_time(self):
        self.offload()
        self.care("one", check_days=365)
        card, _ = self.new_card("A-02", {"f": b"of another roll"})
        hub.insert("A-02", "slot-2")
        look(self.station)
        second = self.offload(card)
        self.assertEqual(self.keep_up(), [])
        self.rot("one")
        self.check(Copy.objects.exclude(roll=second).first().roll, "one")
        (run,) = self.keep_up()
        self.assertEqual((run.roll, run.copy.store.name), (second, "one"))
        self.assertEqual(self.keep_up(), [])

    def test_damage_that_cannot_be_mended_is_left_and_nobody_is_told_otherwise(self):
        self.offload()
        for store in ("one", "two"):
            self.rot(store)
            self.check(Copy.objects.first().roll, store)
        self.care("one", mends=True)
        self.assertEqual(self.keep_up(), [])

    def test_it_waits_for_its_hours_and_for_who_may(self):
        self.offload()
        self.care("one", check_days=1, **NIGHT)
        with clock.at(today(12) + timedelta(days=3)):
            sight_stores(self.station)
            self.assertEqual(self.keep_up(), [])
        with clock.at(today(23) + timedelta(days=3)):
            sight_stores(self.station)
            self.sol.memberships.update(role=Role.ASSISTANT)
            self.assertEqual(self.keep_up(), [])

    def test_care_is_set_by_a_supervisor_and_refused_where_it_makes_no_sense(self):
        self.assertEqual(self.post("upkeep/stores/one", {"mends": True}, self.wren, method="put").status_code, 403)
        self.assertEqual(self.care("one", check_days=0).status_code, 409)
        self.assertEqual(self.care("one", check_days=30, mends=True, rate=8_000_000).status_code, 200)
        self.assertEqual(
            JournalEntry.objects.get(act="set care").sentence,
            "Copies on 'one' are read again by themselves every 30 days and mended by themselves where they are "
            "damaged, at most 8.00 MB a second.",
        )
