"""Paper and lists: labels for cards and drives, clips for editing."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router

from ruggedraft.core.labels import SHEETS, sheet_named
from ruggedraft.core.manifests.clip_list import clips_as_csv, clips_as_timeline
from ruggedraft.live.snapshot import one_moment
from ruggedraft.productions.queries import production_named
from ruggedraft.reports.clip_lists import clips_listed
from ruggedraft.reports.documents.labels import label_sheets
from ruggedraft.reports.queries import labels_of
from ruggedraft.rolls.queries import rolls_named

from ..answers import described_as, sent
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


@router.get("/rolls/{tag}/clips.csv", openapi_extra=described_as("text/csv"), response={**REFUSED})
@one_moment()
def clips_table(request: HttpRequest, production: Path[str], tag: str) -> HttpResponse:
    """A roll's clips, a line each; files by their places on a store."""
    (roll,) = rolls_named(production_named(production), [tag])
    made = clips_as_csv(clips_listed(roll), roll.algorithm)
    return sent(made, "text/csv; charset=utf-8", f"{roll.tag}-clips.csv", "attachment")


@router.get("/rolls/{tag}/clips.otio", openapi_extra=described_as("application/json"), response={**REFUSED})
@one_moment()
def clips_timeline(request: HttpRequest, production: Path[str], tag: str) -> HttpResponse:
    """The same as an OpenTimelineIO timeline, recordings one after the other."""
    (roll,) = rolls_named(production_named(production), [tag])
    made = clips_as_timeline(roll.tag, clips_listed(roll))
    return sent(made, "application/json", f"{roll.tag}-clips.otio", "attachment")
