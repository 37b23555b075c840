from collections.abc import Sequence

from django.db import transaction
from django.db.models import Q, QuerySet

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.rolls.models import Roll

from ..models import Offload


@transaction.atomic
def order_offloads(person: Person, station: Station, wanted: Sequence[int]) -> None:
    """Say in which order the runs that wait at a station go. Those that run already are not put back.

    wanted: ids of every run that waits there, first to go first
    """
    Station.objects.select_for_update(no_key=True).get(pk=station.pk)
    waiting = {run.pk: run for run in waiting_runs(station).select_related("roll")}
    require(person, May.OFFLOAD, *{run.roll.production_id for run in waiting.values()})
    if set(wanted) != set(waiting) or len(wanted) != len(waiting):
        raise ActRefused("The queue changed meanwhile: look again.")
    ranks = sorted(run.rank for run in waiting.values())
    for rank, pk in zip(ranks, wanted, strict=True):
        Offload.objects.filter(pk=pk).update(rank=rank)
    _tell_each(person, station, [waiting[pk].roll for pk in wanted])
    changed(Topic.READERS)


def _tell_each(person: Person, station: Station, ordered: Sequence[Roll]) -> None:
    """Each production's log names its own rolls, and no other's."""
    for production in sorted({roll.production_id for roll in ordered}):
        mine = [roll.tag for roll in ordered if roll.production_id == production]
        words = f"Waiting offloads go in this order: {', '.join(mine)}."
        write("order offloads", station.name, words, person=person, production=production)


def waiting_runs(station: Station) -> QuerySet[Offload]:
    """Runs that nobody works on: not begun, or paused."""
    waits = Q(started_at=None) | Q(held_back=True)
    return Offload.objects.filter(waits, station=station, finished_at=None).order_by("rank", "pk")
