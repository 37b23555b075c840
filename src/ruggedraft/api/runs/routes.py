"""Runs under way or waiting: stopping them, pausing them, letting them go on."""

from django.http import HttpRequest
from ninja import Path, Router

from ruggedraft.offloads.queries import after_runs
from ruggedraft.productions.queries import production_named
from ruggedraft.rolls.queries import roll_named
from ruggedraft.runs.acts.cancel_run import cancel_run
from ruggedraft.runs.acts.pause_run import pause_run, resume_run
from ruggedraft.runs.queries import run_of

from ..shapes import REFUSED, Done
from ..who import who
from .after import AfterOut

_MOST = 20
router = Router(tags=["runs"])


@router.post("/{run_id}/cancel", response={200: Done, **REFUSED})
def cancel(request: HttpRequest, production: Path[str], run_id: int) -> Done:
    cancel_run(who(request), run_of(production_named(production), run_id))
    return Done()


@router.post("/{run_id}/pause", response={200: Done, **REFUSED})
def pause(request: HttpRequest, production: Path[str], run_id: int) -> Done:
    pause_run(who(request), run_of(production_named(production), run_id))
    return Done()


@router.post("/{run_id}/resume", response={200: Done, **REFUSED})
def resume(request: HttpRequest, production: Path[str], run_id: int) -> Done:
    resume_run(who(request), run_of(production_named(production), run_id))
    return Done()


@router.get("/after/{tag}", response=list[AfterOut])
def after(request: HttpRequest, production: Path[str], tag: str) -> list[AfterOut]:
    """What stations started after a roll's offloads, newest first."""
    return [AfterOut.of(one) for one in after_runs(roll_named(production_named(production), tag), _MOST)]
