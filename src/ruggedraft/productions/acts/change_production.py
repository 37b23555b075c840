from datetime import date
from zoneinfo import ZoneInfo

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Production

LATEST_HOUR = 12


def checked_zone(name: str) -> str:
    """A name of the time zone database. Raises ActRefused."""
    try:
        ZoneInfo(name)
    except (KeyError, ValueError, OSError) as error:
        raise ActRefused(f"There is no time zone '{name}'; an example is Europe/Lisbon.") from error
    return name


@transaction.atomic
def change_production(
    person: Person,
    production: Production,
    *,
    time_zone: str,
    first_day: date,
    day_starts_at: int,
    removal_allowed: bool | None = None,
) -> None:
    """Say where and when the production works. Rolls that are open keep their shoot day.

    removal_allowed: whether files may be taken off cards here; None: as before. Only a supervisor says so.
    """
    require(person, May.PLAN, production.pk)
    production = Production.objects.select_for_update(no_key=True).get(pk=production.pk)
    checked_zone(time_zone)
    if not 0 <= day_starts_at <= LATEST_HOUR:
        raise ActRefused("A shoot day begins between midnight and noon.")
    production.time_zone, production.first_day, production.day_starts_at = time_zone, first_day, day_starts_at
    words = f"{production.name}: first day {first_day}, days begin at {day_starts_at}:00, times in {time_zone}."
    if removal_allowed is not None and removal_allowed != production.removal_allowed:
        require(person, May.SET_UP, production.pk)
        production.removal_allowed = removal_allowed
        may = "may" if removal_allowed else "may not"
        words += f" Files that are safe elsewhere {may} be taken off cards here."
    production.save()
    write("change production", production.name, words, person=person, production=production.pk)
    changed(Topic.SETUP, Topic.READERS, Topic.CARDS, Topic.ROLLS)
