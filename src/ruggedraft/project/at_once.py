"""Several questions in one request.

An open page asks all that it shows anew whenever something happens, and so does one that was asleep. Each question is
answered as if it had been asked by itself, by the same view and for the same person; what a request costs before
that is paid once.
"""

import json
import time
from collections.abc import AsyncIterator, Sequence
from typing import cast
from urllib.parse import unquote

from asgiref.sync import sync_to_async
from django.core.handlers.exception import convert_exception_to_response
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseNotAllowed, QueryDict, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.urls import resolve

from ruggedraft.api.who import roles_known
from ruggedraft.live.letting_go import let_go
from ruggedraft.live.together import asked_at

from .text import OnlyText

MOST = 40
"""Questions in one request."""
_JSON = ("application/json", "application/problem+json")


async def at_once(request: HttpRequest) -> HttpResponseBase:
    """`?of=ADDRESS&of=ADDRESS`: a line of JSON for each, in this order, as soon as it is there.

    A line: {"status": as the answer's own, "body": the answer}. Nothing but questions (GET) with JSON for an answer.
    """
    if request.method != "GET":
        return HttpResponseNotAllowed(["GET"])
    asked = request.GET.getlist("of")
    if len(asked) > MOST:
        return _problem(422, f"At most {MOST} questions are answered at once.")
    response = StreamingHttpResponse(_lines(request, asked), content_type="application/x-ndjson")
    response["Cache-Control"] = "no-cache"
    response["X-Accel-Buffering"] = "no"  # a proxy passes each line on when it is there
    return response


async def _lines(request: HttpRequest, asked: Sequence[str]) -> AsyncIterator[bytes]:
    moment = time.monotonic()
    roles_known(request)
    for one in asked:
        yield await sync_to_async(_line)(request, one, moment)


def _line(request: HttpRequest, address: str, moment: float) -> bytes:
    try:
        answer = _answer(request, address, moment)
        return b'{"status":%d,"body":%s}\n' % (answer.status_code, answer.content.replace(b"\n", b" ") or b"null")
    finally:
        let_go()


def _answer(request: HttpRequest, address: str, moment: float) -> HttpResponse:
    path, _, query = address.partition("?")
    answer = cast(HttpResponseBase, _answered(_question(request, unquote(path), query, moment)))
    if isinstance(answer, HttpResponse) and answer["Content-Type"].partition(";")[0] in _JSON:
        return answer
    if answer.streaming:
        answer.close()
    if answer.status_code >= 400:
        return _problem(answer.status_code, "The server could not answer this.")
    return _problem(406, "This is asked for by itself.")


def _question(request: HttpRequest, path: str, query: str, moment: float) -> HttpRequest:
    """As the same person, at the same screen, would have asked it by itself. moment: when, by the monotonic clock"""
    one = HttpRequest()
    one.method, one.path, one.path_info = "GET", path, path
    one.META = {**request.META, "PATH_INFO": path, "QUERY_STRING": query}
    one.GET = QueryDict(query, encoding="utf-8")
    one.COOKIES, one.user = request.COOKIES, request.user
    one.session = request.session
    one.__dict__["roles_known"] = roles_known(request)
    asked_at(one, moment)
    return one


def _view(request: HttpRequest) -> HttpResponse:
    found = resolve(request.path_info)
    if "ninja" not in found.app_names:  # neither a page nor what goes on answering, such as this
        raise Http404
    request.resolver_match = found
    answer: HttpResponse = found.func(request, *found.args, **found.kwargs)
    return answer


_answered = convert_exception_to_response(OnlyText(_view))


def _problem(status: int, sentence: str) -> HttpResponse:
    body = json.dumps({"type": "about:blank", "status": status, "title": sentence})
    return HttpResponse(body, status=status, content_type="application/problem+json")
