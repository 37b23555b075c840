"""Bench: what is in my readers, what is happening to it, what do I do next?"""

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router

from ruggedraft.clearing.bench import slots
from ruggedraft.live.snapshot import one_moment
from ruggedraft.productions.queries import production_named, set_up_of

from ..answers import written
from ..shapes import CameraOut
from .shapes import BenchOut, slot_out

router = Router(tags=["bench"])


@router.get("", response=BenchOut)
@one_moment()
def bench(request: HttpRequest, production: Path[str]) -> HttpResponse:
    here = production_named(production)
    made = set_up_of(here)
    return written(
        BenchOut(
            slots=[slot_out(slot) for slot in slots(here)],
            cameras=[CameraOut.of(camera) for camera in made.cameras],
            plans=[plan.name for plan in made.plans],
            production=here.name,
            time_zone=here.time_zone,
        )
    )
