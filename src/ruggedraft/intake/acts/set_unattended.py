from django.db import transaction

from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Plan

from ..models import Reader


@transaction.atomic
def set_unattended(person: Person, reader: Reader, *, on: bool, plan: Plan | None = None) -> None:
    """Have the cards that are put into a reader offloaded by themselves, in this person's name; or no longer.

    plan: only cards of cameras with this plan; None for any
    """
    require(person, May.OFFLOAD, *([plan.production_id] if plan else []))
    reader = Reader.objects.select_for_update(no_key=True, of=("self",)).select_related("station").get(pk=reader.pk)
    reader.unattended_by = person if on else None
    reader.unattended_plan = plan if on else None
    reader.save(update_fields=["unattended_by", "unattended_plan"])
    which = f" of the plan '{plan.name}'" if on and plan else ""
    words = f"{which} are offloaded by themselves" if on else " wait for somebody"
    write("set unattended", reader.name, f"Cards in {reader.name}{words}.", person=person, origin=reader.station.name)
    changed(Topic.READERS)
