from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Offload


@transaction.atomic
def hold_back_offload(person: Person, offload: Offload, *, back: bool) -> None:
    """Pause a run that waits or is under way, or let it go on. A paused run has claimed nothing and loses nothing."""
    from ..tasks import run_offload

    require(person, May.OFFLOAD)
    offload = Offload.objects.select_for_update(of=("self",)).select_related("roll", "station").get(pk=offload.pk)
    if offload.finished_at:
        raise ActRefused("This offload has ended already.")
    if offload.held_back == back:
        return
    offload.held_back = back
    offload.save(update_fields=["held_back"])
    words = "is paused" if back else "goes on"
    write("pause offload" if back else "resume offload", offload.roll.tag, f"Offload of {offload.roll.tag} {words}.",
          person=person)  # fmt: skip
    if not back:
        run_offload.configure(queue=offload.station.name).defer(offload_id=offload.pk)
    changed(Topic.READERS)
