"""Where the ledger is backed up to, and when it last was."""

from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path

from django.db import transaction

from ruggedraft.core.errors import StoreError
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write_in_each
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from .folders import folder_of
from .models import LedgerBackup, Store
from .queries import is_lost, productions_of, stores

FOLDER = "ledger backups"
EVERY = timedelta(hours=24)


def due() -> Iterator[tuple[Store, Path]]:
    """Stores that the ledger should be backed up to now and that are there, each with the folder for it."""
    for store in stores().filter(keeps_backups=True):
        last = store.ledger_backups.order_by("-at").first()
        if is_lost(store) or (last and now() - last.at < EVERY):
            continue
        try:
            yield store, folder_of(store) / FOLDER
        except StoreError:
            continue  # it is not plugged in here; the day that it is, it is due


@transaction.atomic
def note_backup(store: Store, file: Path) -> None:
    """A backup was made, read again, and has its name."""
    LedgerBackup.objects.create(store=store, at=now(), file=f"{FOLDER}/{file.name}", bytes=file.stat().st_size)
    words = f"The ledger was backed up to '{store.name}' as {file.name}."
    write_in_each(productions_of(store), "back up", store.name, words, person=None)
    changed(Topic.STORES)
