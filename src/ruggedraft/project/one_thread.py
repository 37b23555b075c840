"""Keeps a request in one thread."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse


class InOneThread:
    """The innermost middleware. As it cannot be awaited, Django calls those around it as plain functions too.

    Awaited, each costs two changes of thread: with thirty open pages that ask at once, most of what an answer took.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self._get_response(request)
