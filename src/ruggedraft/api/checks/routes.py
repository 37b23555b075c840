"""Having a copy read again."""

from django.http import HttpRequest
from ninja import Path, Router

from ruggedraft.checks.acts.ask_check import ask_check
from ruggedraft.productions.queries import production_named
from ruggedraft.rolls.queries import copy_of

from ..shapes import REFUSED, Done
from ..who import who

router = Router(tags=["checks"])


@router.post("/{copy_id}/check", response={200: Done, **REFUSED})
def check(request: HttpRequest, production: Path[str], copy_id: int) -> Done:
    ask_check(who(request), copy_of(production_named(production), copy_id))
    return Done()
