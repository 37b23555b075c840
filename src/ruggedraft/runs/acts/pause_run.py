from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Run
from ..queue import ask_for_worker


@transaction.atomic
def pause_run(person: Person, run: Run) -> None:
    """Pause a run that waits or is under way. A paused run has claimed nothing and loses nothing."""
    _hold_back(person, run, back=True)


@transaction.atomic
def resume_run(person: Person, run: Run) -> None:
    """Let a paused run go on."""
    _hold_back(person, run, back=False)


def _hold_back(person: Person, run: Run, *, back: bool) -> None:
    require(person, May.OFFLOAD, run.roll.production_id)
    run = Run.objects.select_for_update(no_key=True, of=("self",)).select_related("roll", "station").get(pk=run.pk)
    if run.finished_at:
        raise ActRefused(f"This {run.kind} has ended already.")
    if run.held_back == back:
        return
    run.held_back = back
    run.save(update_fields=["held_back"])
    act, words = ("pause", "is paused") if back else ("resume", "goes on")
    sentence = f"{run.kind.capitalize()} of {run.roll.tag} {words}."
    write(f"{act} {run.kind}", run.roll.tag, sentence, person=person, production=run.roll.production_id)
    if not back:
        ask_for_worker(run)
    changed(Topic.READERS)
