from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Offload


@transaction.atomic
def cancel_offload(person: Person, offload: Offload) -> None:
    """Ask the worker to stop. What is verified by then stays so; the rest is named as not safe."""
    from ..tasks import run_offload

    require(person, May.OFFLOAD)
    offload = Offload.objects.select_for_update(of=("self",)).select_related("roll", "station").get(pk=offload.pk)
    if offload.finished_at:
        raise ActRefused("This offload has ended already.")
    if offload.cancel_asked_at is None:
        offload.cancel_asked_at = now()
        offload.save(update_fields=["cancel_asked_at"])
        if offload.held_back:
            run_offload.configure(queue=offload.station.name).defer(offload_id=offload.pk)
        write("cancel offload", offload.roll.tag, f"Offload of {offload.roll.tag} is to stop.", person=person)
    changed(Topic.READERS)
