"""What a station does for folders that people work in."""

from procrastinate.contrib.django import app

from ruggedraft.core.runs import RunKind
from ruggedraft.live.letting_go import let_go
from ruggedraft.runs.kinds import runs_are_carried_out_by

from . import making, running, taking_away
from .looking import carry_out_look
from .models import FolderLook

runs_are_carried_out_by(RunKind.RETURN, running.carry_out, running.break_off)
runs_are_carried_out_by(RunKind.WORKING, making.carry_out, making.break_off)
runs_are_carried_out_by(RunKind.TAKE_AWAY, taking_away.carry_out, taking_away.break_off)


@app.task(name="returning:look_into_folder")
def look_into_folder(look_id: int) -> None:
    look = FolderLook.objects.filter(pk=look_id, finished_at=None).select_related("production", "station").first()
    if look:
        carry_out_look(look)
    let_go()
