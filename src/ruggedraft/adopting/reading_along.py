"""While something is read whole, to compare it: how far it is, whether it is still wanted, and that cards go first."""

import time

from ruggedraft.core.stores.port import Data
from ruggedraft.journal.clock import now
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.runs.models import Run, RunQueue

from .models import LongReading

_LOOK_EVERY_S = 3.0


class NotWanted(Exception):
    """Somebody stopped it, or a newer one took its place."""

    def __init__(self, sentence: str) -> None:
        super().__init__(sentence)
        self.sentence = sentence


class ReadingAlong:
    """Sees every piece that is read. Looks every few seconds, and waits while a card is worked on at its station."""

    def __init__(self, asked: LongReading) -> None:
        self._asked, self._read = asked, 0
        self._looked_at = float("-inf")

    def on_data(self, data: Data) -> None:
        """Raises NotWanted."""
        self._read += len(data)
        if time.monotonic() - self._looked_at < _LOOK_EVERY_S:
            return
        self._look()
        while self._cards_are_worked_on():
            time.sleep(_LOOK_EVERY_S)
            self._look()

    def _look(self) -> None:
        self._looked_at = time.monotonic()
        asked = type(self._asked)._default_manager.filter(pk=self._asked.pk)
        if not asked.filter(finished_at=None).update(read=self._read, read_at=now()):
            raise NotWanted("another one took its place")
        one = asked.select_related("stopped_by").get()
        if one.stopped_by:
            raise NotWanted(f"{one.stopped_by.shown_name} stopped it")
        changed(Topic.COMPARING)

    def _cards_are_worked_on(self) -> bool:
        cards = Run.objects.filter(station=self._asked.station, queue=RunQueue.CARDS, finished_at=None, held_back=False)
        return cards.exclude(started_at=None).exists()
