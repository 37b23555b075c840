"""Requests from a shared screen: nobody is signed in, everything can be seen, and who acts says so each time."""

from django.http import HttpRequest
from ninja.security import SessionAuth

from ruggedraft.core.errors import NotPermitted
from ruggedraft.crew.acts.shared_screen import person_by_pin, screen_with
from ruggedraft.crew.models import Person, SharedScreen
from ruggedraft.crew.permissions import May
from ruggedraft.crew.queries import require_on_the_crew

COOKIE = "raft_screen"
COOKIE_DAYS = 60
WHO, PIN = "X-Raft-Who", "X-Raft-Pin"
ASKS_WHO = "Say who you are: this screen is shared."
ONLY_ASK = frozenset(("choice", "effect", "example", "lists", "look", "moves"))
"""What addresses end with of which a POST only asks, because it says much or has the station look."""
_SIGN_IN_FOR = ("people", "setup", "screens", "units", "programs")
"""Places where a PIN is not enough."""


def screen_of(request: HttpRequest) -> SharedScreen | None:
    """The shared screen that a request comes from; None where somebody is signed in, or it comes from none."""
    if request.user.is_authenticated:
        return None
    return screen_with(request.COOKIES.get(COOKIE, ""))


class SeenAtScreen(SessionAuth):
    """Lets a shared screen look at what belongs to no production."""

    def authenticate(self, request: HttpRequest, key: str | None) -> SharedScreen | None:
        return screen_of(request) if request.method in ("GET", "HEAD") else None


def only_asks(request: HttpRequest) -> bool:
    """Whether nothing is changed by a request, and nobody need say who makes it."""
    return request.method in ("GET", "HEAD") or request.path.rpartition("/")[2] in ONLY_ASK


def seen_at(screen: SharedScreen) -> Person:
    """Stands for whoever looks at a shared screen: nobody, who is not kept."""
    return Person(username="", first_name=screen.name)


def acting_at(screen: SharedScreen, request: HttpRequest, slug: str, place: str, to_see: May) -> Person:
    """Whoever acts at a shared screen, by their PIN; for this request alone. Raises NotPermitted."""
    if place in _SIGN_IN_FOR:
        raise NotPermitted("Sign in with your name and password for that. Nothing was done.")
    name, pin = request.headers.get(WHO, ""), request.headers.get(PIN, "")
    if not name or not pin:
        raise NotPermitted(ASKS_WHO)
    person = person_by_pin(screen, name, pin)
    require_on_the_crew(person, slug, to_see)
    return person
