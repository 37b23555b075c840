"""Keeping the ledger in step with a station's readers and stores."""

import time
from collections.abc import Callable

from django.db.models import Q

from ruggedraft.core.stores import StoreKind
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.live.letting_go import let_go
from ruggedraft.live.waking import Bell, Waking
from ruggedraft.stores.acts.sight_stores import sight_stores
from ruggedraft.stores.models import StoreSighting
from ruggedraft.stores.noting import note_volumes
from ruggedraft.stores.volumes import volumes

from .acts.note_readers import note_readers
from .acts.read_card import read_card, silent
from .folders import said_folders
from .models import Insertion
from .mount_news import MountNews
from .mounts import said_ports
from .queries import folders_said, ports_said, said_to_be_cards
from .readers import Slot, reader_sources
from .tasks import ask_headers

_FEEL_EVERY_S = 0.5
"""What the kernel tells of mounts is felt at once all the same."""
_LOOK_AFTER_NEWS_S = 2.0
_LOOK_EVERY_S = 30.0
"""Also without any news: for servers that go, and room that others take."""
_LOOK_FOR_SERVERS_S = 10.0
"""While one is away: somebody may be plugging in its cable."""
_NOTE_EVERY_S = 60.0
"""So often slots are brought in line with the ledger, whatever is heard of it."""


def watch_readers(
    station: Station,
    waking: Waking,
    on_error: Callable[[Exception], None],
    after_look: Callable[[Station], object] = lambda station: None,
) -> None:
    """Until told to stop: note cards that come and go, list each new one, look after the stores.

    waking: what changes in the ledger may be a wish that concerns a card, or a run that fills stores
    after_look: what else is to be done for the station, after each look
    """
    watched = _Watched(station, waking.bell(), after_look)
    with MountNews() as mounts:
        while not waking.stop.is_set():
            mounts.wait(_FEEL_EVERY_S)
            try:
                watched.look_if_due()
            except Exception as error:  # a watcher that dies in silence would leave screens showing yesterday's slots
                on_error(error)
                let_go()
                waking.stop.wait(1.0)


class _Watched:
    """What was seen of a station's readers the last time. Moments by the monotonic clock."""

    def __init__(self, station: Station, bell: Bell, after_look: Callable[[Station], object]) -> None:
        self._station, self._bell, self._after_look = station, bell, after_look
        self._pulse: object = None
        self._slots: list[Slot] | None = None
        self._looked = self._noted = self._again = 0.0

    def look_if_due(self) -> None:
        """Where something has changed, or nothing was looked at for long enough."""
        pulse, moment = [source.pulse() for source in reader_sources()], time.monotonic()
        wait = _LOOK_AFTER_NEWS_S if self._bell.is_rung else self._again
        if pulse == self._pulse and moment - self._looked <= wait:
            return
        news = self._bell.answer() or pulse != self._pulse or moment - self._noted > _NOTE_EVERY_S
        before, self._slots = None if news else self._slots, None
        self._pulse, self._looked = pulse, moment
        self._noted = moment if news else self._noted
        self._again = _LOOK_AFTER_NEWS_S  # a look that fails is made again soon
        self._slots = look(self._station, before)
        self._after_look(self._station)
        self._again = look_again_in(self._station)


def look_again_in(station: Station) -> float:
    """Seconds until another look is worth it, without any news."""
    if Station.objects.filter(pk=station.pk, runs__finished_at=None, runs__isnull=False).exists():
        return _LOOK_AFTER_NEWS_S  # room and cards change from one moment to the next
    servers = [kind for kind in StoreKind if not kind.is_local]
    away = StoreSighting.objects.filter(station=station, online=False, store__kind__in=servers)
    return _LOOK_FOR_SERVERS_S if away.exists() else _LOOK_EVERY_S


_GLANCE_EVERY = 60.0  # seconds
_glanced: dict[int, float] = {}


def _glance(station: Station) -> None:
    """List cards that stay in their readers once more: somebody may put a file on one, or take one off."""
    for insertion in _idle(station):
        if time.monotonic() - _glanced.get(insertion.pk, -_GLANCE_EVERY) >= _GLANCE_EVERY:
            _glanced[insertion.pk] = time.monotonic()
            read_card(insertion, glance=True)


def _idle(station: Station) -> list[Insertion]:
    """Stays whose card nobody reads at the moment, listed before."""
    stays = Insertion.objects.filter(reader__station=station, removed_at=None).exclude(listings=None)
    busy = stays.filter(card__offloads__finished_at=None, card__offloads__isnull=False).values("pk")
    return list(stays.exclude(pk__in=busy).select_related("reader__station", "card__camera").distinct())


def look(station: Station, noted: list[Slot] | None = None) -> list[Slot]:
    """One look at every slot and every store. Returns the slots.

    noted: as the last look found and noted them, where nothing in the ledger has changed since: then that is enough
    """
    said_ports.clear()
    said_ports.update(ports_said(station))
    said_folders.clear()
    said_folders.update(folders_said(station))
    slots = [slot for source in reader_sources() for slot in source.slots()]
    if slots != noted:
        note_readers(station, slots)
    for insertion in _unlisted(station):
        listing = read_card(insertion)
        _glanced[insertion.pk] = time.monotonic()
        if listing:
            ask_headers(listing)
    _glance(station)
    sight_stores(station)
    if station.role:  # the server looks at its own machine by itself
        seen = volumes()
        note_volumes(station, seen, said_to_be_cards((one.path for one in seen), station))
    Station.objects.filter(pk=station.pk).update(seen_at=now())
    return slots


def _unlisted(station: Station) -> list[Insertion]:
    """Stays whose card nothing is known of yet; those that were asked and have not answered too."""
    asked = Q(trouble="", listings=None) | Q(pk__in=silent)
    stays = Insertion.objects.filter(asked, reader__station=station, removed_at=None).distinct()
    return list(stays.select_related("reader__station", "card__camera"))
