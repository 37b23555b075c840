"""The HTTP API: it turns requests into acts and queries, and holds no rules."""

from collections.abc import Callable, Mapping
from typing import Any

from django.conf import settings
from django.core.exceptions import RequestDataTooBig
from django.db import DataError, IntegrityError, InterfaceError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.openapi.schema import OpenAPISchema
from ninja.parser import Parser
from ninja.security import SessionAuth, django_auth
from ninja.types import DictStrAny
from psycopg.errors import DiskFull
from pydantic import BaseModel

from ruggedraft.core.errors import NotPermitted, NotThere, RaftError
from ruggedraft.crew.permissions import May
from ruggedraft.crew.queries import require_to_see, role_on_the_crew
from ruggedraft.live.messages import LiveMessage
from ruggedraft.productions.models import RedundancyRule
from ruggedraft.productions.queries import production_named
from ruggedraft.project.text import is_text

from .accounts import routes as accounts
from .begin import routes as begin
from .bench import routes as bench
from .camera_reports import routes as camera_reports
from .cards import routes as cards
from .certificates import routes as certificates
from .checks import routes as checks
from .choosing import routes as choosing
from .clearing import routes as clearing
from .crew import people
from .crew import routes as crew
from .days import routes as days
from .delivering import routes as delivering
from .finding import routes as finding
from .footage import routes as footage
from .intake import routes as intake
from .journal import routes as journal
from .keywords import routes as keywords
from .making_room import routes as making_room
from .news import routes as news
from .notes import routes as notes
from .offloads import routes as offloads
from .productions import routes as productions
from .reports import routes as reports
from .returning import routes as returning
from .rolls import routes as rolls
from .runs import routes as runs
from .screens import acting_at, only_asks, screen_of, seen_at
from .sets import routes as sets
from .shapes import Problem
from .shifts import routes as shifts
from .stations import routes as stations
from .stores import routes as stores
from .trends import routes as trends
from .units import routes as units
from .upkeep import routes as upkeep
from .views import routes as views
from .who import roles_known


class _OnlyText(Parser):
    """JSON whose every string can be kept."""

    def parse_body(self, request: HttpRequest) -> DictStrAny:
        try:
            given: DictStrAny = super().parse_body(request)
        except RecursionError as error:
            raise HttpError(400, "This was not understood: it is nested too deeply. Nothing was changed.") from error
        if not is_text(given):
            raise HttpError(400, "This is not text: it holds a character that cannot be kept. Nothing was changed.")
        return given


def _for_people_signed_in(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """The API's own description is nobody else's business."""

    def guarded(request: HttpRequest, *words: object, **more: object) -> HttpResponse:
        if settings.DEBUG or request.user.is_authenticated:
            return view(request, *words, **more)
        return _problem(request, 401, "You are not signed in.")

    return guarded


_PROBLEMS = {
    400: "Not understood as a request",
    401: "Not signed in",
    403: "Not allowed for this role, or without the page's token",
    404: "There is no such thing",
    409: "Not possible as things stand; nothing was changed",
    413: "Too much at once; nothing was changed",
    422: "A value that cannot be; nothing was changed",
    503: "The ledger's database is away, or its disk is full; nothing was changed",
}


def _shapes_of(shape: type[BaseModel]) -> DictStrAny:
    """A shape and those in it, as the API's description holds them."""
    found = shape.model_json_schema(ref_template="#/components/schemas/{model}")
    return {**found.pop("$defs", {}), shape.__name__: found}


class _Api(NinjaAPI):
    """Its description says of every operation how it refuses: in one shape, with a status that means it."""

    def get_openapi_schema(self, **words: Any) -> OpenAPISchema:
        schema = super().get_openapi_schema(**words)
        problem = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
        for operations in schema["paths"].values():
            for operation in operations.values():
                for status, words_ in _PROBLEMS.items():
                    operation["responses"][status] = {"description": words_, "content": problem}
        schema["components"]["schemas"]["Problem"] = Problem.model_json_schema()
        schema["components"]["schemas"] |= _shapes_of(LiveMessage)
        return schema


api = _Api(
    title="Rugged Raft",
    version="1",
    description="Verified copies of camera cards, and whether a card may be reused.",
    auth=django_auth,
    parser=_OnlyText(),
    docs_url=None,
    docs_decorator=_for_people_signed_in,
    urls_namespace="api",
)
api.add_router("/session", crew.router)
api.add_router("/begin", begin.router)
api.add_router("/stations", stations.router)


class OnTheCrew(SessionAuth):
    """Lets nobody into a production who is not on its crew, in a role that sees this place; whatever they ask there.

    A shared screen sees it with nobody signed in; who acts there says who they are, with that request.
    """

    def __init__(self, place: str, to_see: May) -> None:
        super().__init__()
        self._place, self._to_see = place, to_see

    def authenticate(self, request: HttpRequest, key: str | None) -> object:
        found = super().authenticate(request, key)
        if request.resolver_match is None:
            return None
        slug = request.resolver_match.kwargs["production"]
        if found:
            if slug not in roles_known(request):
                roles_known(request)[slug] = role_on_the_crew(found, slug)
            require_to_see(roles_known(request)[slug], self._to_see)
            return found
        screen = screen_of(request)
        if screen is None:
            return None
        if production_named(slug).pk != screen.production_id:
            raise NotThere(f"There is no production '{slug}' on this screen.")
        person = seen_at(screen) if only_asks(request) else acting_at(screen, request, slug, self._place, self._to_see)
        request.user = person
        return screen


_PLACES = {
    "bench": (bench.router, intake.router, offloads.router),
    "setup": (productions.router,),
    "units": (units.router,),
    "people": (people.router,),
    "screens": (people.screens,),
    "stores": (stores.router,),
    "upkeep": (upkeep.router,),
    "tally": (rolls.router, views.router),
    "copies": (checks.router,),
    "runs": (runs.router,),
    "footage": (footage.router,),
    "choosing": (choosing.router,),
    "clearing": (clearing.router,),
    "certificates": (certificates.router,),
    "cards": (cards.router,),
    "where": (cards.where,),
    "find": (finding.router, views.of_find),
    "waterline": (clearing.line,),
    "log": (journal.router,),
    "news": (news.router,),
    "programs": (news.programs,),
    "notes": (notes.router,),
    "shifts": (shifts.router,),
    "days": (days.router,),
    "accounts": (accounts.router,),
    "deliveries": (delivering.router,),
    "sets": (sets.router,),
    "trends": (trends.router,),
    "camera-reports": (camera_reports.router,),
    "returns": (returning.router,),
    "room": (making_room.router,),
    "keywords": (keywords.router,),
    "reports": (reports.router,),
}
"""Everything but beginning, sessions and stations happens in a production, which its address names."""
_STATE = frozenset({"tally", "footage", "clearing", "certificates", "waterline"})
"""What those see who need to know what is safe, and nothing of the work at the cart."""
for _place, _routers in _PLACES.items():
    for _router in _routers:
        api.add_router(
            f"/productions/{{production}}/{_place}", _router,
            auth=OnTheCrew(_place, May.SEE_STATE if _place in _STATE else May.SEE_WORK),
        )  # fmt: skip


def _problem(request: HttpRequest, status: int, sentence: str) -> HttpResponse:
    """One shape for everything that goes wrong (RFC 9457, 'Problem Details for HTTP APIs')."""
    body = {"type": "about:blank", "status": status, "title": sentence}
    response = api.create_response(request, body, status=status)
    response["Content-Type"] = "application/problem+json"
    return response


@api.exception_handler(NotPermitted)
def _not_permitted(request: HttpRequest, error: NotPermitted) -> HttpResponse:
    return _problem(request, 403, error.sentence)


@api.exception_handler(NotThere)
def _not_in_the_ledger(request: HttpRequest, error: NotThere) -> HttpResponse:
    return _problem(request, 404, error.sentence)


@api.exception_handler(RaftError)
def _refused(request: HttpRequest, error: RaftError) -> HttpResponse:
    return _problem(request, 409, error.sentence)


@api.exception_handler(AuthenticationError)
def _signed_out(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
    return _problem(request, 401, "You are not signed in.")


@api.exception_handler(RequestDataTooBig)
def _too_much(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
    most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE
    return _problem(request, 413, f"This is too much at once: at most {most:,} bytes are taken. Nothing was changed.")


@api.exception_handler(HttpError)
def _not_accepted(request: HttpRequest, error: HttpError) -> HttpResponse:
    return _problem(request, error.status_code, str(error))


@api.exception_handler(Http404)
def _not_there(request: HttpRequest, error: Http404) -> HttpResponse:
    return _problem(request, 404, "There is no such thing here.")


@api.exception_handler(IntegrityError)
def _contradicts(request: HttpRequest, error: IntegrityError) -> HttpResponse:
    return _problem(request, 409, "This contradicts what the ledger holds by now. Nothing was changed: look again.")


@api.exception_handler(RedundancyRule.DoesNotExist)
def _no_rule(request: HttpRequest, error: Exception) -> HttpResponse:
    return _problem(request, 409, "This production has no rule, so that nothing can be judged: ask a supervisor.")


@api.exception_handler(OperationalError)
@api.exception_handler(InterfaceError)
def _database_away(request: HttpRequest, error: Exception) -> HttpResponse:
    if isinstance(error.__cause__, DiskFull):
        words = "The disk under the ledger's database is full: make room there, and try again. Nothing was changed."
    else:
        words = "The ledger's database does not answer; it is started again by itself. Nothing was changed: try again."
    return _problem(request, 503, words)


@api.exception_handler(DataError)
@api.exception_handler(OverflowError)
def _cannot_be_kept(request: HttpRequest, error: Exception) -> HttpResponse:
    return _problem(request, 422, "A value is too large or too long to be kept. Nothing was changed.")


@api.exception_handler(ValidationError)
def _not_understood(request: HttpRequest, error: ValidationError) -> HttpResponse:
    said = "; ".join(dict.fromkeys(_wrong_value(found) for found in error.errors))
    return _problem(request, 422, f"This was not understood: {said}. Nothing was changed.")


_WRONG = {
    "missing": "is missing", "date": "is not a date", "datetime": "is not a moment", "int": "is not a whole number",
    "float": "is not a number", "bool": "is neither yes nor no", "string": "is not a text", "enum": "is no choice here",
    "literal": "is no choice here", "list": "is not a list",
}  # fmt: skip


def _wrong_value(found: Mapping[str, Any]) -> str:
    """In words for a person. Types of errors: pydantic's documentation, of which the first part is looked at."""
    steps = [str(step) for step in found["loc"] if not isinstance(step, int)]
    field = steps[-1].replace("_", " ") if steps else "it"
    return f"{field} {_WRONG.get(str(found['type']).partition('_')[0], 'cannot be that')}"
