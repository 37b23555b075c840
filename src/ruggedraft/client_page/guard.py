"""Who may see a client's page. Whatever is wrong with a link, the answer is the same."""

from collections.abc import Callable
from functools import wraps
from typing import Any, TypeVar

from django.conf import settings
from django.core import signing
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import render

from ruggedraft.core.errors import NotThere
from ruggedraft.delivering.links import let_in, link_of, may_ask, may_guess
from ruggedraft.delivering.models import ClientLink
from ruggedraft.project.clients import client_address

_HOURS = 12
View = Callable[..., HttpResponseBase]


def by_link(view: View) -> View:
    """Gives the view its link instead of what the address carries, once it opens and its password was given."""

    @wraps(view)
    def guarded(request: HttpRequest, carried: str, **words: Any) -> HttpResponseBase:
        address = client_address(request)
        try:
            link = link_of(carried)
        except NotThere:
            return nothing(request) if may_guess(address) else too_often(request)
        if not may_ask(link, address):
            return too_often(request)
        if link.hashed and not _let_in_before(request, link):
            return _asked_for_password(request, link)
        try:
            answer = view(request, link, **words)
        except NotThere:
            return nothing(request)
        return _private(answer)

    return guarded


def nothing(request: HttpRequest) -> HttpResponse:
    """The same for what was guessed, has expired, was revoked, or was never there."""
    return _private(render(request, "client_page/nothing.html", status=404))


def too_often(request: HttpRequest) -> HttpResponse:
    """To whoever asks too much in too little time."""
    answer = _private(render(request, "client_page/too_often.html", status=429))
    answer["Retry-After"] = "60"
    return answer


Answer = TypeVar("Answer", bound=HttpResponseBase)


def _private(answer: Answer) -> Answer:
    """Kept by nobody on its way. The address is told to no other site."""
    answer["Cache-Control"] = "private, no-store"
    answer["Referrer-Policy"] = "same-origin"
    answer["X-Robots-Tag"] = "noindex"
    return answer


def _cookie(link: ClientLink) -> str:
    return f"raft_link_{link.pk}"


def _signer(link: ClientLink) -> signing.TimestampSigner:
    return signing.TimestampSigner(salt=f"ruggedraft.client_page.{link.secret}.{link.hashed}")


def _let_in_before(request: HttpRequest, link: ClientLink) -> bool:
    try:
        _signer(link).unsign(request.COOKIES.get(_cookie(link), ""), max_age=_HOURS * 3600)
    except signing.BadSignature:
        return False
    return True


def _asked_for_password(request: HttpRequest, link: ClientLink) -> HttpResponse:
    wrong = False
    if request.method == "POST" and "password" in request.POST:
        if let_in(link, request.POST["password"]):
            answer = HttpResponse(status=303, headers={"Location": request.path})
            answer.set_cookie(
                _cookie(link), _signer(link).sign("open"), max_age=_HOURS * 3600, path="/d/", httponly=True,
                samesite="Lax", secure=settings.SESSION_COOKIE_SECURE,
            )  # fmt: skip
            return _private(answer)
        wrong = True
    return _private(render(request, "client_page/password.html", {"wrong": wrong}, status=403 if wrong else 200))
