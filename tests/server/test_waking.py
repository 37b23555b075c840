"""What waits is woken by the ledger, and an idle process asks for nothing."""

import asyncio
import os
import subprocess
import tempfile
import threading
import time
from unittest import skipUnless
from unittest.mock import patch

import psycopg
from django.db import connection
from django.test import TestCase, TransactionTestCase

from ruggedraft.intake.mount_news import MountNews
from ruggedraft.intake.watching import look_again_in
from ruggedraft.live.listening import PatientConnection, notices
from ruggedraft.live.messages import Resync, Topic
from ruggedraft.live.notify import CHANNEL, changed, connection_words, send
from ruggedraft.live.waking import Waking
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.proposal import propose

from .world import World

PATIENCE = 20.0


class Woken(TransactionTestCase):
    def setUp(self):
        self.waking = Waking()
        self.addCleanup(self.waking.end)
        self.bell = self.waking.bell()
        self.waking.start()
        self.assertTrue(self.waited(), "what was said before it listened is not known")

    def waited(self, at_most: float = PATIENCE) -> bool:
        """Whether the bell rang before so many seconds had passed."""
        began = time.monotonic()
        return self.bell.wait(0.0, at_most) and time.monotonic() - began < at_most

    def end_other_connections(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE pid != pg_backend_pid()"
                " AND datname = current_database()"
            )

    def test_by_what_has_changed(self):
        for topic in (Topic.ROLLS, Topic.CARDS, Topic.STORES):
            changed(topic)
            self.assertTrue(self.waited())

    def test_not_by_what_nothing_is_to_be_done_about(self):
        changed(Topic.LOOKS, Topic.SESSION)
        send(Resync())
        self.assertFalse(self.waited(1.0))

    def test_no_sooner_than_it_is_wanted(self):
        changed(Topic.ROLLS)
        began = time.monotonic()
        self.assertTrue(self.bell.wait(0.5, PATIENCE))
        self.assertGreaterEqual(time.monotonic() - began, 0.5)

    def test_again_after_the_database_was_away(self):
        self.end_other_connections()
        self.assertTrue(self.waited(), "whatever was said meanwhile was not heard")
        changed(Topic.ROLLS)
        self.assertTrue(self.waited())

    def test_one_that_rings_while_somebody_turns_away_is_not_lost(self):
        """Between the end of the waiting and what is done about it."""
        rung = self.bell._rung
        with patch.object(rung, "wait", lambda seconds: False), patch.object(rung, "is_set", self.just_before):
            self.assertTrue(self.bell.wait(0.0, 0.0))
        self.assertFalse(self.bell.has_rung)
        self.assertTrue(self.bell.answer(), "it is rung for the next time")

    def just_before(self) -> bool:
        """It had not rung, and rings now."""
        self.bell.ring()
        return False

    def test_it_ends_for_everybody(self):
        waits = threading.Thread(target=self.bell.wait, args=(0.0, PATIENCE))
        waits.start()
        self.waking.end()
        waits.join(PATIENCE / 2)
        self.assertFalse(waits.is_alive())
        self.assertFalse(self.bell.wait(0.0, 0.0))


class Listening(TransactionTestCase):
    def test_at_once_and_for_no_longer_than_asked(self):
        with psycopg.connect(**connection_words()) as ledger:
            ledger.execute(f"LISTEN {CHANNEL}")
            changed(Topic.ROLLS)
            self.assertIn("rolls", next(iter(notices(ledger, PATIENCE))).payload)
            self.assertEqual([*notices(ledger, 0.2)], [])

    def test_a_connection_that_is_gone_is_no_silence(self):
        with psycopg.connect(**connection_words()) as ledger:
            ledger.execute(f"LISTEN {CHANNEL}")
            ledger.pgconn.finish()
            with self.assertRaises((psycopg.Error, OSError, ValueError)):
                list(notices(ledger, 0.2))

    def test_in_the_background(self):
        async def heard() -> list[str]:
            async with await PatientConnection.connect(**connection_words()) as ledger:
                await ledger.execute(f"LISTEN {CHANNEL}")
                loop = asyncio.get_running_loop()
                loop.call_later(0.2, threading.Thread(target=self.say).start)
                first = [one.payload async for one in ledger.notifies(timeout=PATIENCE, stop_after=1)]
                return first + [one.payload async for one in ledger.notifies(timeout=0.2)]

        self.assertEqual(len(asyncio.run(heard())), 1)

    def say(self) -> None:
        changed(Topic.ROLLS)
        connection.close()

    def test_little_is_done_while_nothing_is_said(self):
        """Of this thread, in processor time; psycopg alone looks up ten times a second."""
        with psycopg.connect(**connection_words()) as ledger:
            ledger.execute(f"LISTEN {CHANNEL}")
            began = time.thread_time()
            list(notices(ledger, 2.0))
            ours, began = time.thread_time() - began, time.thread_time()
            list(ledger.notifies(timeout=2.0))
            self.assertLess(ours, (time.thread_time() - began) / 2)


class LookedAgain(World, TestCase):
    """How soon a station looks at readers and stores of which nothing was heard."""

    def away(self, name: str) -> None:
        self.drives[name].sightings.filter(station=self.station).update(online=False)

    def test_soon_while_anything_is_read_or_written(self):
        idle = look_again_in(self.station)
        start_offload(self.wren, self.card, propose(self.card).tag)
        self.assertLess(look_again_in(self.station), idle / 10)

    def test_sooner_while_a_server_is_away_but_not_for_a_drive_of_which_the_kernel_tells(self):
        idle = look_again_in(self.station)
        self.away("one")
        self.assertEqual(look_again_in(self.station), idle)
        type(self.drives["two"]).objects.filter(name="two").update(kind="sftp")
        self.away("two")
        self.assertLess(look_again_in(self.station), idle)


@skipUnless(os.geteuid() == 0, "mounting is for root")
class Mounts(TransactionTestCase):
    def test_the_kernel_tells_of_a_mount(self):
        with tempfile.TemporaryDirectory() as folder, MountNews() as news:
            news.wait(0.0)
            began = time.monotonic()
            timer = threading.Timer(0.2, self.mount, [folder])
            timer.start()
            news.wait(PATIENCE)
            timer.join()
            took = time.monotonic() - began
            subprocess.run(["umount", folder], check=False, capture_output=True)
        if self.refused:
            self.skipTest(f"this machine does not mount: {self.refused}")
        self.assertLess(took, PATIENCE / 2)

    def mount(self, folder: str) -> None:
        done = subprocess.run(["mount", "-t", "tmpfs", "none", folder], capture_output=True, text=True)
        self.refused = done.stderr
