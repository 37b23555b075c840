"""The typed door for everything outside Python: it turns requests into acts and queries, and holds no rules."""

from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, ValidationError
from ninja.security import django_auth

from ruggedraft.core.errors import NotPermitted, RaftError

from . import bench, clearing, contents, log, queue, rigs, session, setup, tally, waterline

api = NinjaAPI(
    title="Rugged Raft",
    version="1",
    description="Verified copies of camera cards, and whether a card may be reused.",
    auth=django_auth,
    urls_namespace="api",
)
api.add_router("/session", session.router)
api.add_router("/bench", bench.router)
api.add_router("/bench", contents.router)
api.add_router("/bench", queue.router)
api.add_router("/bench", rigs.router)
api.add_router("/setup", setup.router)
api.add_router("/tally", tally.router)
api.add_router("/clearing", clearing.router)
api.add_router("/log", log.router)
api.add_router("/waterline", waterline.router)


def _problem(request: HttpRequest, status: int, sentence: str) -> HttpResponse:
    """One shape for everything that goes wrong (RFC 9457, 'Problem Details for HTTP APIs')."""
    body = {"type": "about:blank", "status": status, "title": sentence}
    response = api.create_response(request, body, status=status)
    response["Content-Type"] = "application/problem+json"
    return response


@api.exception_handler(NotPermitted)
def _not_permitted(request: HttpRequest, error: NotPermitted) -> HttpResponse:
    return _problem(request, 403, error.sentence)


@api.exception_handler(RaftError)
def _refused(request: HttpRequest, error: RaftError) -> HttpResponse:
    return _problem(request, 409, error.sentence)


@api.exception_handler(AuthenticationError)
def _signed_out(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
    return _problem(request, 401, "You are not signed in.")


@api.exception_handler(ValidationError)
def _not_understood(request: HttpRequest, error: ValidationError) -> HttpResponse:
    fields = ", ".join(".".join(str(step) for step in found["loc"][1:]) for found in error.errors)
    return _problem(request, 422, f"This was not understood: {fields}. Nothing was changed.")
