"""What a station does behind everything else: pictures of what was offloaded, and whether recordings decode.

From copies, and never from a card.
"""

import threading
import time
from collections.abc import Callable, Sequence
from contextlib import closing
from functools import partial
from typing import TypeVar

from ruggedraft.core.cards.media import MediaFacts, MediaKind, kind_of
from ruggedraft.core.errors import SourceError, SourceVanished, StoreError
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.pictures import (
    CannotBeShown,
    Decoded,
    GaveWay,
    Made,
    StillMaker,
    decode,
    light_copy,
    make_pictures,
)
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.sources.port import CardSource, OpenFile
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.offloads.models import Offload
from ruggedraft.rolls.models import Copy, Roll, RollFile
from ruggedraft.stores.opening import open_usable

from .acts.keep_pictures import keep_light, keep_pictures
from .acts.note_decoded import note_decoded
from .due import Due, due_at, to_decode_at, to_lighten_at

Result = TypeVar("Result")
_Copies = Sequence[tuple[Copy, CardSource]]
_Ask = Callable[[], bool]
_Act = Callable[[RollFile, _Copies, _Ask], bool]
"""What is done with one file; False where that is not possible now."""
_TELL_AFTER_S = 3.0
_PIECE = 64 << 20
"""Bytes, between which it is asked whether something else comes first."""


def make_due(station: Station, stop: threading.Event) -> int:
    """Go through what is due at a station until nothing is, or a card comes first. Returns how many files.

    A card that is being offloaded there has everything to itself: between two files it is looked for.
    """
    with StillMaker() as stills:

        def show(file: RollFile, copies: _Copies, has_to_wait: _Ask) -> bool:
            made = _made_of(file, copies, stills)
            if made is not None:
                keep_pictures(station, file, made, now())
            return made is not None

        return _until_done(due_at, show, station, stop)


def decode_due(station: Station, stop: threading.Event) -> int:
    """The same for what somebody asked about: whether it decodes.

    One that is in the middle when a card comes is begun anew later.
    """
    return _until_done(to_decode_at, _decode, station, stop)


def lighten_next(station: Station, stop: threading.Event) -> bool:
    """Make a light copy of the next recording that was gone through; False where there is none, or not now.

    One at a time: whatever else is due comes before the one after it.
    """
    due = None if _has_to_wait(station, stop) else to_lighten_at(station)
    return due is not None and _each(due, partial(_lighten, station), lambda: _has_to_wait(station, stop)) > 0


def _lighten(station: Station, file: RollFile, copies: _Copies, has_to_wait: _Ask) -> bool:
    facts = _facts(file)
    try:
        made = _of_a_copy(file, copies, lambda one: light_copy(one.descriptor(), facts, has_to_wait=has_to_wait))
    except (CannotBeShown, _NoneHoldsIt) as problem:
        keep_light(station, file, None, str(problem), now())
        return True
    if made is not None:
        keep_light(station, file, made[1], "", now())
    return made is not None


def _until_done(find: Callable[[Station], Due | None], act: _Act, station: Station, stop: threading.Event) -> int:
    count = 0
    while not _has_to_wait(station, stop) and (due := find(station)):
        done = _each(due, act, lambda: _has_to_wait(station, stop))
        count += done
        if not done:  # the store went away, or cannot be read: it is tried another time
            break
    return count


def _each(due: Due, act: _Act, has_to_wait: _Ask) -> int:
    copies = _at_hand(due.copies)
    done, told = 0, time.monotonic()
    for file in due.files:
        try:
            if has_to_wait() or not act(file, copies, has_to_wait):
                break
        except GaveWay:
            break
        done += 1
        if time.monotonic() - told > _TELL_AFTER_S:
            _tell(due.roll)
            told = time.monotonic()
    if done:
        _tell(due.roll)
    return done


def _has_to_wait(station: Station, stop: threading.Event) -> bool:
    return stop.is_set() or Offload.objects.filter(station=station, finished_at=None).exists()


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


def _made_of(file: RollFile, copies: _Copies, stills: StillMaker) -> Made | None:
    facts = _facts(file)
    if facts.kind is MediaKind.OTHER:
        return Made()
    try:
        made = _of_a_copy(file, copies, lambda one: make_pictures(one.descriptor(), file.path, facts, stills))
    except _NoneHoldsIt as problem:
        return Made(note=str(problem))
    return made[1] if made else None


def _decode(file: RollFile, copies: _Copies, has_to_wait: _Ask) -> bool:
    """Where it breaks, what was decoded is held against the roll's checksum: a copy that is not what it was any more
    says nothing of the recording."""
    facts, began = _facts(file), now()

    def work(opened: OpenFile) -> Decoded:
        found = decode(opened.descriptor(), facts.duration_s, has_to_wait=has_to_wait)
        if found.in_all and _checksum(opened, file.roll.algorithm, has_to_wait) != file.checksum:
            return Decoded(note="the copy that was read is not what it was: have it checked")
        return found

    found: tuple[Copy, Decoded] | None
    try:
        found = _of_a_copy(file, copies, work)
    except _NoneHoldsIt as problem:
        found = copies[0][0], Decoded(note=str(problem))
    if found is not None:
        note_decoded(file, found[0], facts, found[1], began)
    return found is not None


class _NoneHoldsIt(Exception):
    def __init__(self) -> None:
        super().__init__("no copy at hand holds it as it was taken")


def _of_a_copy(file: RollFile, copies: _Copies, work: Callable[[OpenFile], Result]) -> tuple[Copy, Result] | None:
    """What comes of the first copy that holds it as it was taken. None where one is away, which says nothing of it.

    Raises _NoneHoldsIt, and what `work` raises.
    """
    away = not copies
    for copy, source in copies:
        try:
            source.require()
            with closing(source.open(from_ledger(file.kept_as or file.path))) as opened:
                if opened.size_and_time()[0] != file.size:
                    continue
                found = work(opened)
            source.require()  # what a drive that went has cut short says nothing
        except SourceVanished:
            away = True
        except SourceError:
            continue
        else:
            return copy, found
    if away:
        return None
    raise _NoneHoldsIt


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
