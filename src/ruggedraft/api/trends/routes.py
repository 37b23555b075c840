"""How it goes: figures that pictures are drawn from."""

from django.http import HttpRequest
from ninja import Path, Router

from ruggedraft.core.trends import Trends
from ruggedraft.live.snapshot import one_moment
from ruggedraft.live.together import asked_together
from ruggedraft.productions.queries import production_named
from ruggedraft.trends.queries import trends_of

router = Router(tags=["trends"])


@router.get("", response=Trends)
@asked_together
@one_moment()
def trends(request: HttpRequest, production: Path[str]) -> Trends:
    return trends_of(production_named(production))
