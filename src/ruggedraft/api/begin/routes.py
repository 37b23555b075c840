"""Beginning an empty ledger, by whoever has the token that the terminal told."""

import secrets

from django.conf import settings
from django.contrib.auth import login
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router

from ruggedraft.core.errors import NotPermitted
from ruggedraft.crew.queries import somebody_is_there
from ruggedraft.productions.acts.begin_ledger import begin_ledger
from ruggedraft.stores.volumes import volumes

from ..crew.routes import BACKEND, Me, address_of, me, require_token
from ..shapes import REFUSED
from ..stores.shapes import VolumeOut
from .shapes import BeginIn, BegunOut, LookIn, LookOut, proposed

router = Router(tags=["begin"])


@router.get("", response=BegunOut, auth=None)
def begun(request: HttpRequest) -> BegunOut:
    get_token(request)
    return BegunOut(begun=somebody_is_there(), demo=settings.STANDINS)


@router.post("/look", response={200: LookOut, **REFUSED}, auth=None)
def look(request: HttpRequest, given: LookIn) -> LookOut:
    """What is plugged in, and what rule those of it that were chosen suggest."""
    _require_setup_token(request, given.token)
    found = volumes()
    return LookOut(volumes=[VolumeOut.of(volume) for volume in found], rule=proposed(found, given.chosen))


@router.post("", response={200: Me, **REFUSED}, auth=None)
def begin(request: HttpRequest, given: BeginIn) -> Me:
    _require_setup_token(request, given.token)
    person = begin_ledger(given.as_beginning(), origin=address_of(request))
    login(request, person, backend=BACKEND)
    return me(request)


def _require_setup_token(request: HttpRequest, token: str) -> None:
    """Raises NotPermitted."""
    require_token(request)
    if not settings.BEGIN_TOKEN or not secrets.compare_digest(token.encode(), settings.BEGIN_TOKEN.encode()):
        raise NotPermitted(
            "Only whoever started it may begin it: open the address that ./raft start --own told in its terminal."
        )
