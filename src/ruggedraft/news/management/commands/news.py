import sys
import time
from collections.abc import Iterator
from typing import Any

import psycopg
from django.core.management.base import BaseCommand

from ruggedraft.journal.models import JournalEntry
from ruggedraft.live.letting_go import let_go
from ruggedraft.live.listening import notices
from ruggedraft.live.locks import try_lock
from ruggedraft.live.notify import CHANNEL, connection_words
from ruggedraft.news.sending import send_due
from ruggedraft.news.telling import tell_everywhere

_EVERY_S = 2.0
_AT_LEAST_EVERY_S = 30.0
_SEND_EVERY_S = 10.0
"""Without any news: what could not be sent is tried again when it is due."""
_KIND, _ONE = 0x4E657773, 0
"""Advisory lock: what happened is told by one process."""


class Command(BaseCommand):
    help = "Tell what happened, by e-mail and to other programs, until it is told to stop."
    requires_system_checks = ()  # `prepare` has made them; they read the whole web server

    def handle(self, *args: Any, **options: Any) -> None:
        with psycopg.connect(**connection_words()) as hold:
            while not try_lock(hold, _KIND, _ONE):  # another one tells; this one takes over should it die
                time.sleep(_EVERY_S)
            hold.execute(f"LISTEN {CHANNEL}")
            self._tell(_whenever_something_is_said(hold))

    def _tell(self, moments: Iterator[None]) -> None:
        last, looked = 0, -_AT_LEAST_EVERY_S
        for _ in moments:
            try:
                head = JournalEntry.objects.order_by("-id").values_list("id", flat=True).first() or 0
                if head != last or time.monotonic() - looked >= _AT_LEAST_EVERY_S:
                    last, looked = head, time.monotonic()
                    tell_everywhere()
                send_due()
            except Exception as error:  # whatever is not told now is told later
                print(f"news: {error!r}", file=sys.stderr, flush=True)
            finally:
                let_go()


def _whenever_something_is_said(hold: psycopg.Connection) -> Iterator[None]:
    """Not too often, nor too seldom. Raises psycopg.Error once the connection is gone.

    With it went the lock, and this would be one of two: it ends, and is begun again.
    """
    while True:
        hold.execute("SELECT 1")
        yield
        time.sleep(_EVERY_S)
        list(notices(hold, _SEND_EVERY_S - _EVERY_S))
