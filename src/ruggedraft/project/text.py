"""Refuses text that the database cannot hold, in whatever part of a request it comes."""

import json
from collections.abc import Callable
from urllib.parse import unquote_to_bytes

from django.http import HttpRequest, HttpResponse

_SENTENCE = "This is not text: it holds a character that cannot be kept. Nothing was changed."


def is_text(value: object) -> bool:
    """Whether every string in a value can be kept: no NUL, no half of a surrogate pair. Looks into lists too."""
    if isinstance(value, str):
        return _can_be_kept(value)
    if isinstance(value, dict):
        return all(is_text(key) and is_text(one) for key, one in value.items())
    if isinstance(value, list):
        return all(is_text(one) for one in value)
    return True


def _can_be_kept(text: str) -> bool:
    try:
        text.encode()
    except UnicodeEncodeError:
        return False
    return "\0" not in text


class OnlyText:
    """Middleware."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if self._is_text(request):
            return self._get_response(request)
        body = {"type": "about:blank", "status": 400, "title": _SENTENCE}
        return HttpResponse(json.dumps(body), status=400, content_type="application/problem+json")

    def _is_text(self, request: HttpRequest) -> bool:
        query = unquote_to_bytes(str(request.META.get("QUERY_STRING", "")).replace("+", " "))
        return _can_be_kept(request.path_info) and _is_utf8(query)


def _is_utf8(data: bytes) -> bool:
    try:
        return "\0" not in data.decode()
    except UnicodeDecodeError:
        return False
