"""What a station on another machine does there when a person asks, and how they hear what came of it."""

import time
from collections.abc import Callable
from typing import Any

from ruggedraft.core.errors import ActRefused, RaftError
from ruggedraft.crew.models import Person
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.kit.stations import is_running, looks_queue
from ruggedraft.stores.acts.keep_packages import keep_packages

from .acts.say_folder import say_folder
from .acts.say_reader import say_reader
from .acts.use_drive import use_drive
from .models import Errand

KINDS: dict[str, Callable[..., object]] = {
    "use drive": use_drive, "say reader": say_reader, "say folder": say_folder, "keep packages": keep_packages,
}  # fmt: skip
_PATIENCE_S = 12.0
_LATE_S = 30.0


def send(person: Person, station: Station, kind: str, **said: Any) -> None:
    """Have a station do something on its machine, and wait for its answer. Raises ActRefused, as the act there does."""
    from .tasks import run_errand

    if not is_running(station):
        raise ActRefused(f"Station '{station.name}' is away: start it, and try again. Nothing was changed.")
    errand = Errand.objects.create(station=station, person=person, kind=kind, said=said, at=now())
    run_errand.configure(queue=looks_queue(station)).defer(errand_id=errand.pk)
    deadline = time.monotonic() + _PATIENCE_S
    while time.monotonic() < deadline:
        errand.refresh_from_db()
        if errand.done_at and errand.refused:
            raise ActRefused(errand.refused)
        if errand.done_at:
            return
        time.sleep(0.1)
    raise ActRefused(f"Station '{station.name}' has not answered yet: look in a minute whether it was done.")


def run(errand: Errand) -> None:
    """On the machine that it is for. One that waited too long is not done: whoever asked has gone on meanwhile."""
    refused = ""
    if (now() - errand.at).total_seconds() > _LATE_S:
        refused = "The station came back too late for this, and did nothing."
    else:
        try:
            KINDS[errand.kind](errand.person, **errand.said, station=errand.station)
        except RaftError as error:
            refused = error.sentence
    Errand.objects.filter(pk=errand.pk).update(done_at=now(), refused=refused[:500])
