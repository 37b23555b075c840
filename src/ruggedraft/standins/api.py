"""The demo's small panel: cards lying on the table, the hub they are put into, and what happens to drives."""

import random
from collections.abc import Callable
from dataclasses import asdict
from typing import Literal

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel

from ruggedraft.api.shapes import Done, Problem

from . import drives, hub

router = Router(tags=["stand-ins"])


class StandinCardOut(BaseModel):
    serial: str
    label: str
    kind: str
    slot: str | None


class InsertIn(BaseModel):
    serial: str
    slot: str


class StandinDriveOut(BaseModel):
    """plugged: it is connected. full: it has no room left, whatever it holds. slow: bytes trickle"""

    name: str
    plugged: bool
    full: bool
    slow: bool


class StandinDriveIn(BaseModel):
    """what: is to happen to it"""

    what: Literal["plug", "unplug", "fill", "empty", "slow", "quicken", "rot", "clone"]


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


@router.get("/drives", response=list[StandinDriveOut])
def all_drives(request: HttpRequest) -> list[StandinDriveOut]:
    return [StandinDriveOut(**asdict(one)) for one in drives.drives(hub.home())]


@router.post("/drives/{name}", response={200: Done, 409: Problem})
def happens(request: HttpRequest, name: str, given: StandinDriveIn) -> Done:
    """What people and time do to drives."""
    happen(given.what, name)
    return Done()


def happen(what: str, name: str) -> str:
    """Returns what there is to say of it, or nothing. Raises ActRefused."""
    home = hub.home()
    if what == "rot":
        return drives.rot(home, name, random.Random())  # noqa: S311  any will do
    ways: dict[str, Callable[[], None]] = {
        "plug": lambda: drives.plug(home, name), "unplug": lambda: drives.unplug(home, name),
        "fill": lambda: drives.fill(home, name, full=True), "empty": lambda: drives.fill(home, name, full=False),
        "slow": lambda: drives.slow_down(home, name, slow=True),
        "quicken": lambda: drives.slow_down(home, name, slow=False),
        "clone": lambda: drives.clone(home, name),
    }  # fmt: skip
    ways[what]()
    return ""
