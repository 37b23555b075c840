"""The person who makes a request."""

from django.http import HttpRequest

from ruggedraft.crew.models import Person


def who(request: HttpRequest) -> Person:
    """The person who is signed in; every route but those of the session asks for one."""
    person = request.user
    if not isinstance(person, Person):
        raise TypeError("this route is open to strangers")
    return person
