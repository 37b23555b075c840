"""The demo's small panel: cards lying on the table, and the hub they are put into."""

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel

from ruggedraft.api.shapes import Done, Problem

from . import hub

router = Router(tags=["stand-ins"])


class StandinCardOut(BaseModel):
    serial: str
    label: str
    kind: str
    slot: str | None


class InsertIn(BaseModel):
    serial: str
    slot: str


@router.get("/cards", response=list[StandinCardOut])
def cards(request: HttpRequest) -> list[StandinCardOut]:
    return [StandinCardOut(serial=c.serial, label=c.label, kind=c.kind, slot=c.slot) for c in hub.cards()]


@router.post("/insert", response={200: Done, 409: Problem})
def insert(request: HttpRequest, given: InsertIn) -> Done:
    hub.insert(given.serial, given.slot)
    return Done()


@router.post("/remove/{slot}", response={200: Done, 409: Problem})
def remove(request: HttpRequest, slot: str) -> Done:
    hub.remove(slot)
    return Done()


@router.post("/format/{serial}", response={200: Done, 409: Problem})
def format_card(request: HttpRequest, serial: str) -> Done:
    """What the camera does with a card that was handed back."""
    hub.format_in_camera(serial)
    return Done()
