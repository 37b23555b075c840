from collections.abc import Sequence
from zoneinfo import ZoneInfo

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.productions.models import Production
from ruggedraft.rolls.queries import rolls_named
from ruggedraft.runs.queue import add_to_queue, is_open

from ..models import TakeAway
from ..places import checked_folder, subject_in


@transaction.atomic
def take_away(
    person: Person, production: Production, station: Station, folder: str, tags: Sequence[str], *, words: bool = True
) -> list[TakeAway]:
    """Have pictures and light copies of rolls written to a folder, each roll with a page that shows them.

    words: with marks and notes, which are the crew's own

    Only by a station on the server's machine, where pictures are kept. Raises ActRefused, NotThere.
    """
    require(person, May.OFFLOAD, production.pk)
    folder = checked_folder(folder)
    if station.role:
        raise ActRefused("Pictures are kept on the server's machine: say a folder of that one.")
    at = now().astimezone(ZoneInfo(production.time_zone))
    runs = []
    for roll in rolls_named(production, tags):
        subject = subject_in(station, folder, "take-away", roll)
        if is_open(subject):
            raise ActRefused(f"A take-away of {roll.tag} is being written to {folder} already.")
        run = TakeAway(
            subject=subject, roll=roll, station=station, person=person, folder=folder, words=words,
            name=f"{roll.tag}_take-away_{at:%Y-%m-%d_%H%M%S}",
        )  # fmt: skip
        add_to_queue(run)
        write("ask take-away", roll.tag, f"What is seen of {roll.tag} is to be written to {folder} on {station.name}.",
              person=person, origin=station.name, production=production.pk)  # fmt: skip
        runs.append(run)
    return runs
