"""The person who makes a request."""

from hashlib import sha256

from django.http import HttpRequest

from ruggedraft.crew.models import Person


def who(request: HttpRequest) -> Person:
    """The person who is signed in, or who said at a shared screen that it is them.

    While somebody only looks at a shared screen it stands for nobody, and is not kept.
    """
    person = request.user
    if not isinstance(person, Person):
        raise TypeError("this route is open to strangers")
    return person


def session_of(request: HttpRequest) -> str:
    """A name for the session of a request. At a shared screen each person who gives their PIN has one of their own."""
    key = request.session.session_key or f"by PIN {who(request).pk}"
    return sha256(key.encode()).hexdigest()
