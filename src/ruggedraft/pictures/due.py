"""Which files have not been gone through for pictures, or are to be decoded, and can be at a station now."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from django.db.models import F, Q, QuerySet

from ruggedraft.core.cards.media import MediaKind
from ruggedraft.core.cards.media.kinds import SOUND, VIDEO
from ruggedraft.core.stores import StoreKind
from ruggedraft.kit.models import Station
from ruggedraft.rolls.models import Copy, Roll, RollFile
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import store_facts

from .acts.keep_pictures import note_all_seen

_AT_ONCE = 200
"""Files of a roll; after them it is asked again whether there is something more urgent."""
_RECORDINGS = (str(MediaKind.VIDEO), str(MediaKind.SOUND))
_NAMED_SO = rf"\.({'|'.join(sorted(VIDEO | SOUND))})$"


@dataclass(frozen=True)
class Due:
    """files: main files of clips. copies: verified ones that they can be read from here, in the order of the stores"""

    roll: Roll
    copies: tuple[Copy, ...]
    files: tuple[RollFile, ...]


def due_at(station: Station) -> Due | None:
    """The newest roll of which something is to be gone through, and a verified copy is at hand."""
    places = places_of_all()
    here = _at_hand(places, station)
    open_rolls = Roll.objects.exclude(seen__content=F("content")).filter(copies__store__in=here).order_by("-pk")
    for roll in open_rolls.distinct():
        files = tuple(_not_gone_through(roll)[:_AT_ONCE])
        if not files:
            note_all_seen(roll)
        elif copies := _copies(roll, places, here):
            return Due(roll, copies, files)
    return None


def to_decode_at(station: Station) -> Due | None:
    """The roll of which somebody asked first whether it decodes, and a verified copy is at hand."""
    places = places_of_all()
    here = _at_hand(places, station)
    asked = Roll.objects.filter(pk__in=undecoded().values("roll"), copies__store__in=here)
    for roll in asked.order_by("decoding_asked__at").distinct():
        if copies := _copies(roll, places, here):
            rows = undecoded().filter(roll=roll).select_related("known_media__media").order_by("path")
            return Due(roll, copies, tuple(rows[:_AT_ONCE]))
    return None


def to_lighten_at(station: Station) -> Due | None:
    """The next recording of the newest roll that was gone through, has no light copy, and a verified copy at hand."""
    places = places_of_all()
    here = _at_hand(places, station)
    waiting = recordings().filter(seen__light_at=None, is_clip=True).exclude(seen=None).exclude(checksum="")
    for roll in Roll.objects.filter(pk__in=waiting.values("roll"), copies__store__in=here).order_by("-pk").distinct():
        if copies := _copies(roll, places, here):
            rows = waiting.filter(roll=roll).select_related("known_media__media").order_by("path")
            return Due(roll, copies, tuple(rows[:1]))
    return None


def undecoded() -> QuerySet[RollFile]:
    """Recordings of rolls that somebody asked about, and that were not decoded since."""
    files = recordings().filter(roll__decoding_asked__isnull=False)
    return files.exclude(decoded__at__gte=F("roll__decoding_asked__at")).exclude(checksum="")


def recordings() -> QuerySet[RollFile]:
    """Video and sound: as headers say, or names where a card was gone before they were read."""
    told = Q(known_media__media__facts__kind__in=_RECORDINGS)
    return RollFile.objects.filter(told | Q(known_media=None, path__iregex=_NAMED_SO))


def _at_hand(places: Mapping[int, Store], station: Station) -> set[int]:
    """Folders that are connected to a station."""
    return {pk for pk, store in places.items() if store.kind == StoreKind.FOLDER and store_facts(store, station).online}


def _not_gone_through(roll: Roll) -> QuerySet[RollFile]:
    files = RollFile.objects.filter(roll=roll, is_clip=True, seen=None).exclude(checksum="")
    return files.select_related("known_media__media").order_by("pk")


def copies_here(roll: Roll, station: Station) -> tuple[Copy, ...]:
    """Verified copies of a roll that are connected to a station as folders."""
    places = places_of_all()
    return _copies(roll, places, _at_hand(places, station))


def _copies(roll: Roll, places: Mapping[int, Store], here: set[int]) -> tuple[Copy, ...]:
    return tuple(_verified(roll_standings([roll.pk], places)[roll.pk], here))


def _verified(standing: RollStanding, stores: set[int]) -> Iterator[Copy]:
    """Whole, read back, not lost, and on one of these stores."""
    for one in standing.copies:
        if one.facts.whole_and_read_back and not one.facts.store.lost and one.store.pk in stores:
            yield one.copy
