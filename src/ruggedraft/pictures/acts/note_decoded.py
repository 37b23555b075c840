from datetime import datetime

from django.db import transaction

from ruggedraft.core.cards.media import MediaFacts, timecode_after
from ruggedraft.core.pictures import Break, Decoded
from ruggedraft.journal.writing import write
from ruggedraft.rolls.models import Copy, RollFile

from ..models import FileDecoded


@transaction.atomic
def note_decoded(file: RollFile, copy: Copy, facts: MediaFacts, found: Decoded, began: datetime) -> None:
    """Keep what came of decoding a recording from a copy; where it breaks the journal says so.

    began: when it was begun: who asked after that is not answered by it
    """
    FileDecoded.objects.update_or_create(
        file=file,
        defaults={
            "copy": copy, "at": began, "frames": found.frames, "in_all": found.in_all, "reached_s": found.reached_s,
            "note": found.note, "breaks": [[one.at_s, one.track, one.said] for one in found.breaks],
        },
    )  # fmt: skip
    if found.in_all:
        words = in_words(file.path, found.breaks[0], found.in_all, facts)
        write("find break", file.roll.tag, words, person=None, production=file.roll.production_id)


def in_words(path: str, first: Break, in_all: int, facts: MediaFacts) -> str:
    """Of a recording of which the decoder complains, as a sentence without its full stop."""
    more = f", and at {in_all - 1} more places" if in_all > 1 else ""
    return f"{path} does not decode as it should {where_it_breaks(first, facts)}{more}: {first.said}"


def where_it_breaks(found: Break, facts: MediaFacts) -> str:
    """As a clause: by timecode where the recording has one, else in seconds from its beginning."""
    if found.at_s is None:
        return f"in track {found.track + 1}"
    at = timecode_after(facts.timecode, facts.rate, found.at_s)
    return f"at {at}" if at else f"after {found.at_s:.2f} seconds"
