"""What one act holds does not keep another waiting that has nothing to do with it."""

import re
import threading
from pathlib import Path
from unittest.mock import patch

from django.conf import settings
from django.db import connection
from django.test import SimpleTestCase, TransactionTestCase

from ruggedraft.intake.acts.note_readers import note_readers
from ruggedraft.intake.readers import CardSeen, Slot, reader_sources
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.models import Offload
from ruggedraft.offloads.proposal import propose

from .world import World

LOCK = re.compile(r"select_for_update\(([^)]*)")


class Locks(SimpleTestCase):
    def test_a_row_that_is_held_can_be_named_by_new_rows(self):
        """PostgreSQL manual, 'Row-Level Locks': FOR UPDATE waits for FOR KEY SHARE, which naming a row takes."""
        source = Path(settings.ROOT) / "src"
        held = {path: LOCK.findall(path.read_text()) for path in source.rglob("*.py")}
        self.assertGreater(sum(len(words) for words in held.values()), 40)
        self.assertEqual([path for path, words in held.items() if any("no_key=True" not in one for one in words)], [])


class CardInWhileStarting(World, TransactionTestCase):
    def test_an_offload_is_started_while_a_station_notes_that_a_card_came(self):
        """The station holds its own row and waits for the production, which starting holds: each waited for both."""
        self.slots = [slot for source in reader_sources() for slot in source.slots()]
        noting, started = threading.Event(), threading.Event()
        waited = []

        def hold_all_still() -> None:
            noting.set()
            waited.append(started.wait(10))

        def note() -> None:
            try:
                new = Slot(name="Slot 9", path=str(self.base), card=CardSeen("9F3C77E1", "SD", 10**9), port="slot-9")
                note_readers(self.station, [*self.slots, new])
            finally:
                connection.close()

        with patch("ruggedraft.intake.acts.note_readers.hold_all_still", hold_all_still):
            thread = threading.Thread(target=note)
            thread.start()
            self.assertTrue(noting.wait(10))
            start_offload(self.wren, self.card, propose(self.card).tag)
            started.set()
            thread.join(20)
        self.assertEqual((waited, Offload.objects.count()), ([True], 1))
