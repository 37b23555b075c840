"""What a station does behind everything else: pictures of what was offloaded, and whether recordings decode.

From copies, and never from a card.
"""

import threading
import time
from collections.abc import Callable
from functools import partial

from ruggedraft.core.cards.media import MediaKind
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
from ruggedraft.core.sources.port import OpenFile
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.offloads.models import Offload
from ruggedraft.rolls.models import Copy, Roll, RollFile

from .acts.ask_as_plans_do import ask_as_plans_do
from .acts.keep_pictures import keep_light, keep_pictures
from .acts.note_decoded import note_decoded
from .due import Due, due_at, to_decode_at, to_lighten_at
from .reading import Copies, NoneHoldsIt, checksum_of, facts_of, of_a_copy, opened

Ask = Callable[[], bool]
_Act = Callable[[RollFile, Copies, Ask], bool]
"""What is done with one file; False where that is not possible now."""
_TELL_AFTER_S = 3.0


def make_due(station: Station, stop: threading.Event) -> int:
    """Go through what is due at a station until nothing is, or a card comes first. Returns how many files.

    A card that is being offloaded there has everything to itself: between two files it is looked for.
    """
    with StillMaker() as stills:

        def show(file: RollFile, copies: Copies, has_to_wait: Ask) -> bool:
            made = _made_of(file, copies, stills)
            if made is not None:
                keep_pictures(station, file, made, now())
            return made is not None

        return _until_done(due_at, show, station, stop)


def decode_due(station: Station, stop: threading.Event) -> int:
    """The same for what somebody asked about, or a plan: whether it decodes.

    One that is in the middle when a card comes is begun anew later.
    """
    ask_as_plans_do()
    return _until_done(to_decode_at, _decode, station, stop)


def lighten_next(station: Station, stop: threading.Event) -> bool:
    """Make a light copy of the next recording that was gone through; False where there is none, or not now.

    One at a time: whatever else is due comes before the one after it.
    """
    due = None if _has_to_wait(station, stop) else to_lighten_at(station)
    return due is not None and _each(due, partial(_lighten, station), lambda: _has_to_wait(station, stop)) > 0


def _lighten(station: Station, file: RollFile, copies: Copies, has_to_wait: Ask) -> bool:
    facts = facts_of(file)

    def work(one: OpenFile) -> tuple[bytes | None, str]:
        try:
            return light_copy(one.descriptor(), facts, has_to_wait=has_to_wait), ""
        except CannotBeShown as problem:  # or the drive went: that is asked before anything is said of the recording
            return None, str(problem)

    try:
        made = of_a_copy(file, copies, work)
    except NoneHoldsIt as problem:
        keep_light(station, file, None, str(problem), now())
        return True
    if made is not None:
        keep_light(station, file, *made[1], now())
    return made is not None


def _until_done(find: Callable[[Station], Due | None], act: _Act, station: Station, stop: threading.Event) -> int:
    count = 0
    while not _has_to_wait(station, stop) and (due := find(station)):
        done = _each(due, act, lambda: _has_to_wait(station, stop))
        count += done
        if not done:  # the store went away, or cannot be read: it is tried another time
            break
    return count


def _each(due: Due, act: _Act, has_to_wait: Ask) -> int:
    copies = opened(due.copies)
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


def _made_of(file: RollFile, copies: Copies, stills: StillMaker) -> Made | None:
    facts = facts_of(file)
    if facts.kind is MediaKind.OTHER:
        return Made()
    try:
        made = of_a_copy(file, copies, lambda one: make_pictures(one.descriptor(), file.path, facts, stills))
    except NoneHoldsIt as problem:
        return Made(note=str(problem))
    return made[1] if made else None


def _decode(file: RollFile, copies: Copies, has_to_wait: Ask) -> bool:
    """Where it breaks, what was decoded is held against the roll's checksum: a copy that is not what it was any more
    says nothing of the recording."""
    facts, began = facts_of(file), now()

    def work(one: OpenFile) -> Decoded:
        found = decode(one.descriptor(), facts.duration_s, has_to_wait=has_to_wait)
        if found.in_all and checksum_of(one, file.roll.algorithm, has_to_wait) != file.checksum:
            return Decoded(note="the copy that was read is not what it was: have it checked")
        return found

    found: tuple[Copy, Decoded] | None
    try:
        found = of_a_copy(file, copies, work)
    except NoneHoldsIt as problem:
        found = copies[0][0], Decoded(note=str(problem))
    if found is not None:
        note_decoded(file, found[0], facts, found[1], began)
    return found is not None
