import json

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import include, path, re_path
from django.utils.module_loading import import_string
from django.views.decorators.csrf import ensure_csrf_cookie

from ruggedraft.api import api
from ruggedraft.live.stream import events

from .at_once import at_once

if settings.STANDINS or settings.TESTING:
    api.add_router("/standins", import_string("ruggedraft.standins.api.router"))

NONCE_MARK = "{{ csp_nonce }}"
"""Stands in the built page where the request's nonce goes: components bring styles of their own at run time."""


@ensure_csrf_cookie
def application(request: HttpRequest) -> HttpResponse:
    """The web application's one page, for every address that is a place in it."""
    page = settings.WEB / "index.html"
    if not page.exists():
        return HttpResponse("The web application has not been built. ./raft start does it.", status=503)
    return HttpResponse(page.read_text().replace(NONCE_MARK, str(getattr(request, "csp_nonce", ""))))


def _problem(status: int, sentence: str) -> HttpResponse:
    body = {"type": "about:blank", "status": status, "title": sentence}
    return HttpResponse(json.dumps(body), status=status, content_type="application/problem+json")


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    return _problem(404, "There is no such thing here.")


def no_token(request: HttpRequest, reason: str = "") -> HttpResponse:
    return _problem(403, "This needs the page's own token: load the page again. Nothing was changed.")


handler404 = not_found

urlpatterns = [
    path("api/live", events),
    path("api/at-once", at_once),
    path("api/", api.urls),
    path("d/", include("ruggedraft.client_page.urls")),
    re_path(r"^(?!api/|static/|d/).*$", application),
]
