"""What a station does behind everything else: pictures of what was offloaded, and whether recordings decode.

From copies, and never from a card.
"""

import threading
import time
from collections.abc import Callable
from contextlib import closing

from ruggedraft.core.cards.media import MediaFacts, MediaKind, kind_of
from ruggedraft.core.errors import SourceError, SourceVanished, StoreError
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.pictures import Decoded, GaveWay, Made, StillMaker, decode, make_pictures
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.sources.port import CardSource, OpenFile
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.offloads.models import Offload
from ruggedraft.rolls.models import Copy, Roll, RollFile
from ruggedraft.stores.opening import open_usable

from .acts.keep_pictures import keep_pictures
from .acts.note_decoded import note_decoded
from .due import Due, due_at, to_decode_at

_TELL_AFTER_S = 3.0
_PIECE = 64 << 20
"""Bytes, between which it is asked whether something else comes first."""


def make_due(station: Station, stop: threading.Event) -> int:
    """Go through what is due at a station until nothing is, or a card comes first. Returns how many files.

    A card that is being offloaded there has everything to itself: between two files it is looked for.
    """
    count = 0
    with StillMaker() as stills:
        while not _has_to_wait(station, stop) and (due := due_at(station)):
            done = _go_through(due, station, stills, stop)
            count += done
            if not done:  # the store went away, or cannot be read: it is tried another time
                break
    return count


def _has_to_wait(station: Station, stop: threading.Event) -> bool:
    return stop.is_set() or Offload.objects.filter(station=station, finished_at=None).exists()


def _go_through(due: Due, station: Station, stills: StillMaker, stop: threading.Event) -> int:
    sources = [source for _, source in _at_hand(due.copies)]
    done, told = 0, time.monotonic()
    for file in due.files:
        if _has_to_wait(station, stop):
            break
        made = _pictures_of(file, sources, stills)
        if made is None:
            break
        keep_pictures(station, file, made, now())
        done += 1
        if time.monotonic() - told > _TELL_AFTER_S:
            _tell(due.roll)
            told = time.monotonic()
    if done:
        _tell(due.roll)
    return done


def _tell(roll: Roll) -> None:
    changed(Topic.PICTURES, rolls=[roll.tag], production=roll.production_id)


def _at_hand(copies: tuple[Copy, ...]) -> list[tuple[Copy, CardSource]]:
    found = []
    for copy in copies:
        try:
            found.append((copy, open_usable(copy.store).as_source(copy.folder)))
        except (StoreError, SourceError):
            continue
    return found


def _pictures_of(file: RollFile, sources: list[CardSource], stills: StillMaker) -> Made | None:
    """Of the first copy that holds it as it was taken. None where one is away, which says nothing of it."""
    facts = _facts(file)
    if facts.kind is MediaKind.OTHER:
        return Made()
    away = not sources
    for source in sources:
        try:
            source.require()
            with closing(source.open(from_ledger(file.kept_as or file.path))) as opened:
                if opened.size_and_time()[0] == file.size:
                    return make_pictures(opened.descriptor(), file.path, facts, stills)
        except SourceVanished:
            away = True
        except SourceError:
            continue
    return None if away else Made(note="no copy at hand holds it as it was taken")


def decode_due(station: Station, stop: threading.Event) -> int:
    """Decode what somebody asked about, until nothing is left or a card comes first. Returns how many recordings.

    One that is in the middle when a card comes is begun anew later.
    """
    count = 0
    while not _has_to_wait(station, stop) and (due := to_decode_at(station)):
        done = _decode(due, station, stop)
        count += done
        if not done:
            break
    return count


def _decode(due: Due, station: Station, stop: threading.Event) -> int:
    copies = _at_hand(due.copies)
    done = 0
    for file in due.files:
        try:
            found = _decoded(file, copies, lambda: _has_to_wait(station, stop))
        except GaveWay:
            break
        if found is None:
            break
        note_decoded(file, found[0], _facts(file), found[1])
        _tell(due.roll)
        done += 1
    return done


def _decoded(
    file: RollFile, copies: list[tuple[Copy, CardSource]], has_to_wait: Callable[[], bool]
) -> tuple[Copy, Decoded] | None:
    """Of the first copy that holds it as it was taken. None where no copy at hand does. Raises GaveWay.

    Where it breaks, what was decoded is held against the roll's checksum: a copy that is not what it was any more, or
    that went away in the middle, says nothing of the recording.
    """
    for copy, source in copies:
        try:
            source.require()
            with closing(source.open(from_ledger(file.kept_as or file.path))) as opened:
                if opened.size_and_time()[0] != file.size:
                    continue
                found = decode(opened.descriptor(), _facts(file).duration_s, has_to_wait=has_to_wait)
                if found.in_all and _checksum(opened, file.roll.algorithm, has_to_wait) != file.checksum:
                    found = Decoded(note="the copy that was read is not what it was: have it checked")
            source.require()
        except SourceError:
            continue
        return copy, found
    return None


def _checksum(opened: OpenFile, algorithm: str, has_to_wait: Callable[[], bool]) -> str:
    hasher = algorithm_named(algorithm).start()
    offset = 0
    while piece := opened.read_at(offset, _PIECE):
        if has_to_wait():
            raise GaveWay
        hasher.update(piece)
        offset += len(piece)
    return hasher.hexdigest()


def _facts(file: RollFile) -> MediaFacts:
    known = getattr(file, "known_media", None)
    return MediaFacts.from_data(known.media.facts) if known else MediaFacts(kind_of(file.path))
