"""The offload as the station's worker runs it."""

from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob

from ruggedraft.intake.models import Station
from ruggedraft.live.letting_go import let_go

from .models import Offload
from .running import break_off, run


@app.task(name="offloads:run_offload")
def run_offload(offload_id: int) -> None:
    offload = Offload.objects.select_related("roll", "card", "station").get(pk=offload_id)
    try:
        run(offload)
    except Exception as error:
        break_off(offload, error)
        raise
    finally:
        let_go()


def resume_offloads(station: Station) -> None:
    """Queue every unfinished run of a station that no job stands for any more. Only while no worker of it runs."""
    waiting = ProcrastinateJob.objects.filter(task_name=run_offload.name, status__in=["todo", "doing"])
    queued = {job.args["offload_id"] for job in waiting}
    for offload in Offload.objects.filter(station=station, finished_at=None).exclude(pk__in=queued):
        run_offload.configure(queue=station.name).defer(offload_id=offload.pk)
