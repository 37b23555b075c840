"""Long answers."""

import re

from django.http import HttpRequest, HttpResponse
from pydantic import BaseModel


def written(answer: BaseModel) -> HttpResponse:
    """An answer as JSON. It was checked when it was made; a long one is not to be checked a second time on its way."""
    return HttpResponse(answer.model_dump_json(), content_type="application/json")


def described_as(content: str) -> dict[str, object]:
    """What the API's description says of an operation that answers with a file of this kind."""
    return {"responses": {200: {"description": "OK", "content": {content: {}}}}}


def sent(made: bytes, content: str, name: str, how: str = "inline") -> HttpResponse:
    """A file under a name. how: "inline" to be shown where that can be, "attachment" to be kept"""
    answer = HttpResponse(made, content_type=content)
    answer["Content-Disposition"] = f'{how}; filename="{name}"'
    return answer


_RANGE = re.compile(r"bytes=(\d*)-(\d*)", re.ASCII)


def in_part(request: HttpRequest, data: bytes, kind: str) -> HttpResponse:
    """All of it, or the one stretch that is asked for, as players do that jump."""
    first, end, status = stretch_asked(request.headers.get("Range", ""), len(data))
    answer = HttpResponse(data[first:end], content_type=kind, status=status)
    if status == 416:
        answer = HttpResponse(status=416, headers={"Content-Range": f"bytes */{len(data)}"})
    elif status == 206:
        answer["Content-Range"] = f"bytes {first}-{end - 1}/{len(data)}"
    answer["Accept-Ranges"] = "bytes"
    return answer


def stretch_asked(said: str, size: int) -> tuple[int, int, int]:
    """From where to where, the end not in it, and the status that says so (RFC 9110, section 14).

    said: the header; what asks for several stretches, or is none, asks for everything

    >>> stretch_asked("bytes=2-4", 10), stretch_asked("", 10), stretch_asked("bytes=10-", 10)
    ((2, 5, 206), (0, 10, 200), (0, 0, 416))
    """
    asked = _RANGE.fullmatch(said)
    if asked is None:
        return 0, size, 200
    found = _stretch(size, asked[1], asked[2])
    return (0, 0, 416) if found is None else (*found, 206)


def _stretch(size: int, first: str, last: str) -> tuple[int, int] | None:
    """From where to where, the end not in it; None where nothing of it is there.

    >>> _stretch(10, "2", "4"), _stretch(10, "8", ""), _stretch(10, "", "3"), _stretch(10, "10", "12")
    ((2, 5), (8, 10), (7, 10), None)
    """
    if not first:
        return (max(0, size - int(last)), size) if last and int(last) and size else None
    if int(first) >= size or (last and int(last) < int(first)):
        return None
    return int(first), min(size, int(last) + 1) if last else size
