from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.runs import RunEnd
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.queries import present_insertion
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still

from ..models import Offload, PullSeen


@transaction.atomic
def acknowledge_pull(person: Person, offload: Offload) -> None:
    """Say that one knows of a card that was taken out in the middle: its slot is free of the alarm from then on."""
    require(person, May.OFFLOAD, offload.roll.production_id)
    hold_still(offload.roll.production_id)
    offload = Offload.objects.select_related("card", "roll", "station").get(pk=offload.pk)
    label, tag = offload.card.label, offload.roll.tag
    if offload.end != RunEnd.PULLED and (offload.finished_at or present_insertion(offload.card)):
        raise ActRefused(f"{label} was not taken out in the middle of {tag}.")
    if PullSeen.objects.filter(offload=offload).exists():
        raise ActRefused("Somebody has said so already.")
    PullSeen.objects.create(offload=offload, person=person, at=now())
    sentence = f"{label} was taken out in the middle of {tag}: seen."
    write("acknowledge pull", label, sentence, person=person, origin=offload.station.name,
          production=offload.roll.production_id)  # fmt: skip
    changed(Topic.READERS, cards=[label], production=offload.roll.production_id)
