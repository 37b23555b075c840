import sys
import time
from typing import Any

import psycopg
from django.core.management.base import BaseCommand

from ruggedraft.journal.models import JournalEntry
from ruggedraft.live.letting_go import let_go
from ruggedraft.live.locks import try_lock
from ruggedraft.live.notify import connection_words
from ruggedraft.news.sending import send_due
from ruggedraft.news.telling import tell_everywhere

_EVERY_S = 2.0
_AT_LEAST_EVERY_S = 30.0
_KIND, _ONE = 0x4E657773, 0
"""Advisory lock: what happened is told by one process."""


class Command(BaseCommand):
    help = "Tell what happened, by e-mail and to other programs, until it is told to stop."
    requires_system_checks = ()  # `prepare` has made them; they read the whole web server

    def handle(self, *args: Any, **options: Any) -> None:
        with psycopg.connect(**connection_words()) as hold:
            while not try_lock(hold, _KIND, _ONE):  # another one tells; this one takes over should it die
                time.sleep(_EVERY_S)
            self._tell(hold)

    def _tell(self, hold: psycopg.Connection) -> None:
        last, looked = 0, -_AT_LEAST_EVERY_S
        while True:
            hold.execute("SELECT 1")  # without its lock this would be one of two: it ends, and is begun again
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
            time.sleep(_EVERY_S)
