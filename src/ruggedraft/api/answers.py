"""Long answers."""

from django.http import HttpResponse
from pydantic import BaseModel


def written(answer: BaseModel) -> HttpResponse:
    """An answer as JSON. It was checked when it was made; a long one is not to be checked a second time on its way."""
    return HttpResponse(answer.model_dump_json(), content_type="application/json")
