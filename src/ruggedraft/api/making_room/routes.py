"""Making room on a store, months later."""

from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router

from ruggedraft.live.snapshot import one_moment
from ruggedraft.making_room.acts.make_room import Shown, make_room
from ruggedraft.making_room.queries import months_ago, room_on, runs_on
from ruggedraft.productions.queries import production_named
from ruggedraft.stores.queries import store_in

from ..answers import written
from ..shapes import REFUSED, Done
from ..who import who
from .shapes import MakeRoomIn, RoomOnOut, RoomSoughtIn

router = Router(tags=["room"])


@router.get("", response={200: RoomOnOut, **REFUSED})
@one_moment()
def room(request: HttpRequest, production: Path[str], sought: Query[RoomSoughtIn]) -> HttpResponse:
    """Which rolls could go from a store, what that gains, and why others stay; nothing is changed."""
    here = production_named(production)
    store = store_in(here.pk, sought.store)
    found = room_on(here, store, months_ago(here, sought.months), with_kept=sought.with_kept)
    return written(RoomOnOut.of(found, runs_on(here, store)))


@router.post("", response={200: Done, **REFUSED})
def take_off(request: HttpRequest, production: Path[str], given: MakeRoomIn) -> Done:
    """Have these rolls taken off a store, each file after another copy of it was read back."""
    here = production_named(production)
    shown = [Shown(one.tag, one.files, one.bytes) for one in given.rolls]
    make_room(
        who(request), here, store_in(here.pk, given.store), shown, months_ago(here, given.months),
        with_kept=given.with_kept,
    )  # fmt: skip
    return Done()
