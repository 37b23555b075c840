"""Where somebody is signed in, as the sessions that the server keeps say."""

import hashlib
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime

from django.contrib.auth import HASH_SESSION_KEY, SESSION_KEY
from django.contrib.sessions.models import Session
from django.http import HttpRequest
from django.utils import timezone

from .models import Person

_SINCE, _FROM, _WITH = "since", "from", "with"


@dataclass(frozen=True)
class SignedIn:
    """name: a name for the session that tells nothing of its key. browser: as it calls itself. address: it came from"""

    name: str
    since: datetime | None
    address: str
    browser: str


def note_session(request: HttpRequest, address: str) -> None:
    """Remember in a session that was just begun where and when that was."""
    browser = request.headers.get("User-Agent", "")[:200]
    request.session.update({_SINCE: timezone.now().timestamp(), _FROM: address, _WITH: browser})


def sessions_of(person: Person) -> list[SignedIn]:
    """The newest first."""
    found = [_of(row, said) for row, said in _rows(person)]
    return sorted(found, key=lambda one: one.since or datetime.min.replace(tzinfo=UTC), reverse=True)


def name_of(key: str) -> str:
    return hashlib.sha256(f"session {key}".encode()).hexdigest()[:20]


def end_session(person: Person, name: str) -> bool:
    """Whoever uses it is signed out. Returns whether there was such a session of this person."""
    for row, _ in _rows(person):
        if name_of(row.session_key) == name:
            row.delete()
            return True
    return False


def _rows(person: Person) -> Iterator[tuple[Session, dict[str, object]]]:
    for row in Session.objects.filter(expire_date__gt=timezone.now()):
        said = row.get_decoded()
        if said.get(SESSION_KEY) == str(person.pk) and said.get(HASH_SESSION_KEY) == person.get_session_auth_hash():
            yield row, said  # one with another hash was ended by a new password


def _of(row: Session, said: dict[str, object]) -> SignedIn:
    since = said.get(_SINCE)
    return SignedIn(
        name_of(row.session_key),
        datetime.fromtimestamp(since, UTC) if isinstance(since, float) else None,
        str(said.get(_FROM, "")),
        str(said.get(_WITH, "")),
    )
