from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Run
from ..queue import ask_for_worker


@transaction.atomic
def cancel_run(person: Person, run: Run) -> None:
    """Ask the worker to stop. What is verified by then stays so; the rest is named as not safe."""
    require(person, May.OFFLOAD, run.roll.production_id)
    run = Run.objects.select_for_update(no_key=True, of=("self",)).select_related("roll", "station").get(pk=run.pk)
    if run.finished_at:
        raise ActRefused(f"This {run.kind} has ended already.")
    if run.cancel_asked_at is None:
        run.cancel_asked_at = now()
        run.save(update_fields=["cancel_asked_at"])
        if run.held_back:
            ask_for_worker(run)
        sentence = f"{run.kind.capitalize()} of {run.roll.tag} is to stop."
        write(f"cancel {run.kind}", run.roll.tag, sentence, person=person, production=run.roll.production_id)
    changed(Topic.READERS)
