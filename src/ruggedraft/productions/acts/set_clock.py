from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Camera, Production

_LONGEST = 100 * 366 * 86_400


@transaction.atomic
def set_clock(person: Person, camera: Camera, ahead_s: int) -> None:
    """Say by how many seconds a camera's clock is ahead of the true time, less than 0 if it is behind.

    Only what is shown changes; no file is touched.
    """
    require(person, May.SET_CLOCK)
    if abs(ahead_s) > _LONGEST:
        raise ActRefused("No camera's clock is off by more than a hundred years.")
    Production.objects.select_for_update().get(pk=camera.production_id)
    Camera.objects.filter(pk=camera.pk).update(clock_ahead_s=ahead_s)
    words = f"The clock of camera {camera.letter} is {_words(ahead_s)}."
    write("set clock", camera.letter, words, person=person, production=camera.production_id)
    changed(Topic.MEDIA, Topic.READERS)


def _words(ahead_s: int) -> str:
    if not ahead_s:
        return "right"
    minutes, seconds = divmod(abs(ahead_s), 60)
    hours, minutes = divmod(minutes, 60)
    days, hours = divmod(hours, 24)
    parts = [
        f"{count} {unit}" for count, unit in ((days, "d"), (hours, "h"), (minutes, "min"), (seconds, "s")) if count
    ]
    return f"{' '.join(parts)} {'ahead' if ahead_s > 0 else 'behind'}"
