"""The person who makes a request."""

from hashlib import sha256

from django.http import HttpRequest

from ruggedraft.crew.models import Person, Role


def who(request: HttpRequest) -> Person:
    """The person who is signed in, or who said at a shared screen that it is them.

    While somebody only looks at a shared screen it stands for nobody, and is not kept.
    """
    person = request.user
    if not isinstance(person, Person):
        raise TypeError("this route is open to strangers")
    return person


def roles_known(request: HttpRequest) -> dict[str, Role]:
    """What whoever makes a request is found to be while it is answered, by the production's name in addresses.

    Questions that come in one request have one of these: a role is looked up once for all of them.
    """
    known: dict[str, Role] = request.__dict__.setdefault("roles_known", {})
    return known


def session_of(request: HttpRequest) -> str:
    """A name for the session of a request. At a shared screen each person who gives their PIN has one of their own."""
    key = request.session.session_key or f"by PIN {who(request).pk}"
    return sha256(key.encode()).hexdigest()
