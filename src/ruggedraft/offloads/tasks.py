"""The offload as the station's worker runs it."""

from django.db import close_old_connections
from procrastinate.contrib.django import app

from .models import Offload
from .running import run


@app.task(name="offloads:run_offload")
def run_offload(offload_id: int) -> None:
    close_old_connections()
    try:
        run(Offload.objects.select_related("roll", "card", "station").get(pk=offload_id))
    finally:
        close_old_connections()
