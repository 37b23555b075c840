"""Stores: what they stand on, and those on devices that are lost or found."""

from django.http import HttpRequest
from ninja import Path, Router

from ruggedraft.rolls.acts.report_loss import report_found, report_loss
from ruggedraft.rolls.acts.state_device import state_device
from ruggedraft.stores.queries import store_named

from ..shapes import REFUSED, Done
from ..who import who
from .shapes import LossIn, StandsOnIn

router = Router(tags=["stores"])


@router.post("/{name}/lost", response={200: Done, **REFUSED})
def lost(request: HttpRequest, production: Path[str], name: str, given: LossIn) -> Done:
    """Report the device lost that a store is on."""
    report_loss(who(request), store_named(name).device, given.reason)
    return Done()


@router.post("/{name}/found", response={200: Done, **REFUSED})
def found(request: HttpRequest, production: Path[str], name: str) -> Done:
    report_found(who(request), store_named(name).device)
    return Done()


@router.post("/{name}/device", response={200: Done, **REFUSED})
def stands_on(request: HttpRequest, production: Path[str], name: str, given: StandsOnIn) -> Done:
    state_device(who(request), store_named(name), given.stands_on, given.reason)
    return Done()
