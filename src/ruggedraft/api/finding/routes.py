"""Find: which drive on which shelf holds this clip?"""

from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router

from ruggedraft.finding.queries import found
from ruggedraft.live.snapshot import one_moment
from ruggedraft.productions.queries import production_named

from ..answers import written
from ..shapes import REFUSED
from .shapes import FindIn, FoundOut

router = Router(tags=["find"])


@router.get("", response={200: FoundOut, **REFUSED})
@one_moment()
def find(request: HttpRequest, production: Path[str], sought: Query[FindIn], after: str = "") -> HttpResponse:
    """Whatever holds every one of these words: things by their names, what people said, and files."""
    return written(FoundOut.of(found(production_named(production), sought.text, sought.as_sought(), after)))
