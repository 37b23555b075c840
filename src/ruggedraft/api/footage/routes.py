"""What is seen of recordings, on cards and in rolls."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router

from ruggedraft.core.pictures import PictureKind, Place
from ruggedraft.live.snapshot import one_moment
from ruggedraft.live.together import asked_together
from ruggedraft.pictures.queries import clips_after, picture_of, pixels_of
from ruggedraft.productions.queries import production_named
from ruggedraft.rolls.queries import preview_in, roll_named

from ..answers import in_part, written
from .shapes import RollClip, RollClips

router = Router(tags=["footage"])

_PICTURE = {"responses": {200: {"description": "OK", "content": {"image/jpeg": {}}}}}
_SEEN_OR_HEARD = {
    "responses": {200: {"description": "OK", "content": {"image/jpeg": {}, "application/json": {}, "video/mp4": {}}}}
}
_WINDOW = {"responses": {200: {"description": "OK", "content": {"image/png": {}}}}}
_MOST = 500


@router.get("/{media_id}/preview", url_name="preview", openapi_extra=_PICTURE)
@one_moment()
def preview(request: HttpRequest, production: Path[str], media_id: int) -> HttpResponse:
    """An embedded preview as JPEG. It never changes."""
    return _for_ever(HttpResponse(preview_in(production_named(production), media_id), content_type="image/jpeg"))


@router.get("/rolls/{tag}/clips", response=RollClips)
@asked_together
@one_moment()
def clips(request: HttpRequest, production: Path[str], tag: str, after: str = "") -> HttpResponse:
    """The clips of a roll, with what there is to be seen of them."""
    found, rest = clips_after(roll_named(production_named(production), tag), after, _MOST)
    return written(RollClips(clips=[RollClip.of(one) for one in found], after=rest))


@router.get("/rolls/{tag}/clips/{file_id}/pixels", openapi_extra=_WINDOW)
def clip_pixels(
    request: HttpRequest,
    production: Path[str],
    tag: str,
    file_id: int,
    x: Annotated[float, Query(ge=0, le=1)] = 0.5,
    y: Annotated[float, Query(ge=0, le=1)] = 0.5,
    at: Annotated[float, Query(ge=0, le=1_000_000)] = 0.0,
) -> HttpResponse:
    """At most 960 by 540 pixels as they were recorded, as PNG, from a verified copy that is connected to the server.

    x, y: their middle, from the left (0) to the right (1), from the top to the bottom. at: seconds, within a frame
    """
    data = pixels_of(roll_named(production_named(production), tag), file_id, Place(x, y, at))
    return _for_ever(HttpResponse(data, content_type="image/png"))


@router.get("/rolls/{tag}/clips/{file_id}/{kind}", openapi_extra=_SEEN_OR_HEARD)
def picture(
    request: HttpRequest, production: Path[str], tag: str, file_id: int, kind: PictureKind, of: str = ""
) -> HttpResponse:
    """A picture that was made of a clip: JPEG; its sound as JSON, `{"channels": [[swing, …], …]}`, each of 0 to 1.

    A light copy is MP4, and a stretch of it may be asked for (RFC 9110, section 14).

    of: what the picture is known by, so that another one is another address; it is not looked at
    """
    data = picture_of(roll_named(production_named(production), tag), file_id, kind)
    return _for_ever(in_part(request, data, _KINDS.get(kind, "image/jpeg")))


_KINDS = {PictureKind.WAVE: "application/json", PictureKind.LIGHT: "video/mp4"}


def _for_ever(answer: HttpResponse) -> HttpResponse:
    answer["Cache-Control"] = "private, max-age=86400, immutable"
    return answer
