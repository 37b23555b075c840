"""Bench: what is in my readers, what is happening to it, what do I do next?"""

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router

from ruggedraft.clearing.bench import slots
from ruggedraft.live.snapshot import one_moment
from ruggedraft.live.together import asked_together
from ruggedraft.productions.queries import production_named

from ..answers import written
from .shapes import BenchOut, slot_out

router = Router(tags=["bench"])


@router.get("", response=BenchOut)
@asked_together
@one_moment()
def bench(request: HttpRequest, production: Path[str]) -> HttpResponse:
    here = production_named(production)
    shown = [slot_out(slot) for slot in slots(here)]
    return written(BenchOut(slots=shown, production=here.name, time_zone=here.time_zone))
