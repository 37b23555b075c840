from datetime import timedelta

from django.db import transaction

from ruggedraft.core.cards import CameraClock, ClockSpan
from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Camera, Production

_LONGEST = timedelta(days=100 * 366)


def checked(span: ClockSpan) -> ClockSpan:
    """A span that somebody states. Raises ActRefused where no clock can be like that."""
    if abs(span.ahead) > _LONGEST:
        raise ActRefused("No camera's clock is off by more than a hundred years.")
    if span.since and span.until and span.until < span.since:
        raise ActRefused("This stretch of time ends before it begins.")
    return span


@transaction.atomic
def set_clock(person: Person, camera: Camera, span: ClockSpan) -> None:
    """Say how far a camera's clock was ahead of the true time, for all it recorded or for a stretch by its own clock.

    Only what is shown changes, and the day of rolls to come; no file is touched.
    """
    require(person, May.SET_CLOCK, camera.production_id)
    checked(span)
    production = Production.objects.select_for_update(no_key=True).get(pk=camera.production_id)
    camera = Camera.objects.select_for_update(no_key=True).get(pk=camera.pk)
    camera.clock = _kept(camera.as_clock().corrected(span))
    camera.save(update_fields=["clock"])
    words = f"The clock of camera {camera.letter} is {_words(span.ahead)}{_between(span)}."
    write("set clock", camera.letter, words, person=person, production=production.pk)
    changed(Topic.MEDIA, Topic.READERS)


def _kept(clock: CameraClock) -> list[list[int | None]]:
    return [
        [
            round(span.ahead.total_seconds()),
            None if span.since is None else int(span.since.timestamp()),
            None if span.until is None else int(span.until.timestamp()),
        ]
        for span in clock.spans
    ]


def _between(span: ClockSpan) -> str:
    """The clock's own times, which are nobody's time zone."""
    since = f" from {span.since:%Y-%m-%d %H:%M:%S}" if span.since else ""
    until = f" until {span.until:%Y-%m-%d %H:%M:%S}" if span.until else ""
    return f"{since}{until} UTC" if since or until else ""


def _words(ahead: timedelta) -> str:
    seconds = round(ahead.total_seconds())
    if not seconds:
        return "right"
    minutes, rest = divmod(abs(seconds), 60)
    hours, minutes = divmod(minutes, 60)
    days, hours = divmod(hours, 24)
    parts = [f"{count} {unit}" for count, unit in ((days, "d"), (hours, "h"), (minutes, "min"), (rest, "s")) if count]
    return f"{' '.join(parts)} {'ahead' if seconds > 0 else 'behind'}"
