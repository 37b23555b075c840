"""A run that was cut short goes on: what it has proven is not read again, and counts as of when it was read."""

import os
from contextlib import contextmanager
from datetime import timedelta
from pathlib import Path
from unittest.mock import patch

from django.test import TestCase

from ruggedraft.core.errors import SourceVanished
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.stores.sftp import SftpStore
from ruggedraft.core.transfer.card_reading import CardReading
from ruggedraft.journal import clock
from ruggedraft.journal.clock import now
from ruggedraft.offloads.feeding import carry_out as run_feed
from ruggedraft.offloads.models import Feed, Offload, RollMemory
from ruggedraft.rolls.models import Reading
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub
from ruggedraft.stores.acts.sight_stores import sight_stores
from ruggedraft.stores.models import Store
from ruggedraft.stores.servers import on_server

from .deciding import ONE, Deciding
from .test_servers import ServerCase
from .world import SHOT

LAST = "zz/LAST0001.JPG"


class CutShort(Deciding):
    def setUp(self):
        super().setUp()
        make.add_file(self.card_folder, LAST, b"last" * 500, SHOT)
        self.put_in("A-01")
        self.began = now() - timedelta(minutes=30)

    @contextmanager
    def reading(self, pulled_at: str = ""):
        """The paths of files that are read off the card; pulled_at: the card is gone when this one's turn comes."""
        read: list[str] = []
        take = CardReading._take

        def taken(reading, entry, file):
            if entry.path == pulled_at:
                reading._gone = SourceVanished("the card is gone")
            read.append(entry.path)
            take(reading, entry, file)

        with patch.object(CardReading, "_take", taken):
            yield read

    def cut_short(self) -> None:
        with clock.at(self.began), self.reading(LAST):
            self.offload()
        self.assertEqual(Offload.objects.get().end, RunEnd.PULLED)
        self.put_in("A-01")

    def go_on(self) -> list[str]:
        with self.reading() as read:
            self.start()
            self.run_all()
        return read


class GoingOn(CutShort, TestCase):
    def test_it_reads_what_was_not_proven_and_dates_the_evidence_by_the_earlier_part(self):
        self.cut_short()
        self.assertEqual(self.go_on(), [LAST])
        self.assertEqual(Offload.objects.latest("pk").end, RunEnd.WELL)
        self.assertEqual(self.planks()["one"], ("verified", 5))
        last = Reading.objects.filter(copy__store__name="one").latest("pk")
        self.assertEqual((last.began_at, last.agreed_files), (self.began, 5))
        self.assertEqual((self.on_drive("one") / LAST).read_bytes(), b"last" * 500)
        self.assertFalse(RollMemory.objects.exists(), "nobody goes on with it any more")
        self.assertFalse((hub.home() / "drives/one/.raft-parts").exists())

    def test_after_a_day_all_of_it_is_read(self):
        self.cut_short()
        RollMemory.objects.update(at=now() - timedelta(hours=25))
        self.assertEqual(len(self.go_on()), 5)
        self.assertEqual(self.planks()["one"], ("verified", 5))

    def test_what_a_check_found_damaged_meanwhile_is_not_believed(self):
        self.cut_short()
        damaged = self.on_drive("one") / ONE
        damaged.write_bytes(b"x" * len(damaged.read_bytes()))
        self.check(Offload.objects.get().roll, "one")
        self.assertEqual(len(self.go_on()), 5)
        self.assertEqual(self.planks()["one"], ("verified", 5))
        self.assertEqual(damaged.read_bytes(), b"one" * 1000)
        readings = Reading.objects.filter(copy__store__name="two").latest("pk")
        self.assertEqual(readings.began_at, self.began, "the other copy was not read again")

    def test_what_is_touched_and_nobody_noticed_is_read(self):
        self.cut_short()
        touched = self.on_drive("one") / ONE
        touched.write_bytes(b"x" * len(touched.read_bytes()))
        self.assertEqual(len(self.go_on()), 2, "it, and the last one")
        self.assertNotEqual(self.planks()["one"][0], "verified")
        self.assertEqual(self.planks()["two"], ("verified", 5))

    def test_a_store_that_was_lost_and_found_in_between_proves_nothing_by_what_was_before(self):
        self.cut_short()
        roll = Offload.objects.get().roll
        self.assertEqual(self.post("stores/one/lost", {"reason": "left in a cab"}, self.sol).status_code, 200)
        self.assertEqual(self.post("stores/one/found", person=self.sol).status_code, 200)
        self.go_on()
        self.assertNotEqual(self.planks()["one"][0], "verified", "it was away since it was read")
        self.check(roll, "one")
        self.assertEqual(self.planks()["one"], ("verified", 5))


class Feeds(CutShort, TestCase):
    def bring(self) -> Feed:
        roll = Offload.objects.get().roll
        self.assertEqual(self.post(f"bench/rolls/{roll.pk}/bring", {"store": "three"}).status_code, 200)
        run_feed(Feed.objects.latest("pk").pk)
        return Feed.objects.latest("pk")

    def test_what_a_feed_has_proven_is_neither_brought_nor_read_again(self):
        self.offload()
        with clock.at(self.began), self.reading(LAST):
            self.assertEqual(self.bring().end, RunEnd.TROUBLE)
        with self.reading() as read:
            self.assertEqual(self.bring().end, RunEnd.WELL)
        self.assertEqual(read, [LAST])
        last = Reading.objects.filter(copy__store__name="three").latest("pk")
        self.assertEqual((last.began_at, last.agreed_files), (self.began, 5))
        self.assertEqual((self.on_drive("three") / LAST).read_bytes(), b"last" * 500)
        self.assertFalse((hub.home() / "drives/three/.raft-parts").exists())

    def test_what_rotted_on_the_way_is_found_by_the_next_check_and_mended(self):
        """The feed's evidence is of before the fault, and does not mend it."""
        self.offload()
        with clock.at(self.began), self.reading(LAST):
            self.bring()
        (self.on_drive("three") / ONE).unlink()
        with clock.at(self.began + timedelta(minutes=10)):
            self.check(Offload.objects.get().roll, "three")
        self.bring()
        self.assertNotEqual(self.planks()["three"][0], "verified", "what was proven before the check is older than it")
        self.bring()
        self.assertEqual(self.planks()["three"], ("verified", 5))


class WithAServer(CutShort, ServerCase):
    def setUp(self):
        super().setUp()
        self.introduce()
        self.plan.stores.set(Store.objects.filter(name__in=("one", "array")))
        sight_stores(self.station)
        self.notes = self.base / "notes" / str(Store.objects.get(name="array").uuid)

    def test_neither_the_card_nor_the_server_is_read_again_where_it_was_proven(self):
        self.cut_short()
        self.assertEqual(len(list(self.notes.rglob("*.proven"))), 1)
        fetched = []
        with patch.object(SftpStore, "_read_to_the_end", self.noting(fetched)):
            self.assertEqual(self.go_on(), [LAST])
        self.assertEqual([Path(path).name for path in fetched], [Path(LAST).name])
        self.assertEqual({name: self.planks()[name] for name in ("one", "array")},
                         {"one": ("verified", 5), "array": ("verified", 5)})  # fmt: skip
        last = Reading.objects.filter(copy__store__name="array").latest("pk")
        self.assertEqual((last.began_at, last.agreed_files), (self.began, 5))
        self.assertEqual(list(self.notes.rglob("*.proven")), [], "nobody goes on with it any more")

    @staticmethod
    def noting(fetched: list[str]):
        real = SftpStore._read_to_the_end

        async def read(store, path, expected):
            if "A001" in path:
                fetched.append(path)
            return await real(store, path, expected)

        return read

    def test_what_nobody_went_on_with_for_long_goes(self):
        self.cut_short()
        (left,) = self.notes.rglob("*.proven")
        os.utime(left, (1, 1))
        on_server(Store.objects.get(name="array")).notes("another").forget()
        self.assertFalse(left.exists())
