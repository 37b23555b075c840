"""Paper: labels for cards and drives."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router

from ruggedraft.core.labels import SHEETS, sheet_named
from ruggedraft.productions.queries import production_named
from ruggedraft.reports.documents.labels import label_sheets
from ruggedraft.reports.queries import labels_of

from ..shapes import REFUSED

router = Router(tags=["reports"])
_PDF = {"responses": {200: {"description": "OK", "content": {"application/pdf": {}}}}}


@router.get("/labels/sheets", response=list[str])
def sheets(request: HttpRequest, production: Path[str]) -> list[str]:
    """The label sheets that there are, by name."""
    return [sheet.name for sheet in SHEETS]


@router.get("/labels", openapi_extra=_PDF, response={**REFUSED})
def labels(
    request: HttpRequest,
    production: Path[str],
    sheet: str = SHEETS[0].name,
    first: int = 1,
    cards: Annotated[list[str], Query()] = [],  # noqa: B006  read, never written
    stores: Annotated[list[str], Query()] = [],  # noqa: B006
) -> HttpResponse:
    """Labels as PDF. cards, stores: by name; with none named, of every card. first: the first free one of a sheet."""
    site = request.build_absolute_uri("/").rstrip("/")
    made = labels_of(production_named(production), site, cards=cards, stores=stores)
    answer = HttpResponse(label_sheets(made, sheet_named(sheet), first), content_type="application/pdf")
    answer["Content-Disposition"] = 'inline; filename="labels.pdf"'
    return answer
