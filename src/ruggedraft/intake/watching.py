"""Keeping the ledger in step with a station's readers and stores."""

import threading
from collections.abc import Callable
from pathlib import Path

from watchfiles import watch

from ruggedraft.journal.clock import now
from ruggedraft.live.letting_go import let_go
from ruggedraft.stores.acts.sight_stores import sight_stores

from .acts.note_readers import note_readers
from .acts.read_card import read_card
from .models import Station
from .readers import reader_sources

_LOOK_AGAIN = 2000  # ms: also without any news from the file system, for sources that give none


def watch_readers(station: Station, stop: threading.Event, on_error: Callable[[Exception], None]) -> None:
    """Until told to stop: note cards that come and go, list each new one, look after the stores."""
    while not stop.is_set():
        try:
            look(station)
            _watch_once(station, stop)
        except Exception as error:  # a watcher that dies in silence would leave screens showing yesterday's slots
            on_error(error)
            let_go()
            stop.wait(1.0)


def look(station: Station) -> None:
    """One look at every slot and every store."""
    slots = [slot for source in reader_sources() for slot in source.slots()]
    note_readers(station, slots)
    for insertion in _unlisted(station):
        read_card(insertion)
    sight_stores()
    Station.objects.filter(pk=station.pk).update(seen_at=now())


def _unlisted(station: Station) -> list:
    from .models import Insertion

    stays = Insertion.objects.filter(reader__station=station, removed_at=None, trouble="").exclude(card=None)
    return list(stays.filter(listings=None).select_related("reader", "card"))


def _watch_once(station: Station, stop: threading.Event) -> None:
    folders = [folder for source in reader_sources() for folder in source.watched() if Path(folder).is_dir()]
    if not folders:
        stop.wait(_LOOK_AGAIN / 1000)
        return
    for _ in watch(
        *folders, stop_event=stop, recursive=False, rust_timeout=_LOOK_AGAIN, yield_on_timeout=True, step=50
    ):
        look(station)
