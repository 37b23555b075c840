"""What a name and a password may be, and the secrets that links carry."""

import hashlib
import secrets
from datetime import timedelta

from django.contrib.auth.hashers import check_password
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.wording import is_name, one_line

from .models import Person

LINK_LIFE = timedelta(days=3)
_LONGEST_NAME = 60
_LONGEST_PASSWORD = 4096


def checked_name(name: str) -> str:
    """A name to sign in with, which nobody has or had. Raises ActRefused."""
    name = one_line(name)
    if not is_name(name, _LONGEST_NAME) or set(name) & set("/*"):
        raise ActRefused(f"A name has 1 to {_LONGEST_NAME} letters or other signs, but neither / nor *.")
    if Person.objects.filter(username__iexact=name).exists():
        raise ActRefused(f"Somebody here is or was called {name}: take another name, so that the log stays clear.")
    return name


def checked_password(password: str) -> str:
    """Raises ActRefused with what is wrong with it."""
    if len(password) > _LONGEST_PASSWORD:
        raise ActRefused("This password is too long.")
    try:
        validate_password(password)
    except ValidationError as error:
        raise ActRefused(" ".join(error.messages)) from error
    return password


def require_password(person: Person, password: str) -> None:
    """Raises ActRefused where somebody's own is another. person: as just read, with the password"""
    if not check_password(password, person.password):
        raise ActRefused("The password is another one. Nothing was changed.")


def new_secret() -> tuple[str, str]:
    """A secret for a link, and what is kept of it: nobody who reads the database can use the link."""
    secret = secrets.token_urlsafe(24).replace("-", "_")  # a word that begins with a dash is no word to a command line
    return secret, kept_of(secret)


def kept_of(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()
