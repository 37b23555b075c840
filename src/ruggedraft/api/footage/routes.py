"""What is seen of recordings, on cards and in rolls."""

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router

from ruggedraft.live.snapshot import one_moment
from ruggedraft.productions.queries import production_named
from ruggedraft.rolls.queries import preview_in

router = Router(tags=["footage"])

_PICTURE = {"responses": {200: {"description": "OK", "content": {"image/jpeg": {}}}}}


@router.get("/{media_id}/preview", url_name="preview", openapi_extra=_PICTURE)
@one_moment()
def preview(request: HttpRequest, production: Path[str], media_id: int) -> HttpResponse:
    """An embedded preview as JPEG. It never changes."""
    answer = HttpResponse(preview_in(production_named(production), media_id), content_type="image/jpeg")
    answer["Cache-Control"] = "private, max-age=86400, immutable"
    return answer
