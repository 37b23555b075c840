"""What a client's link carries: a secret that we signed, of which only a digest is kept."""

import threading
import time
from collections import deque
from dataclasses import dataclass
from datetime import timedelta

from cachetools import TTLCache
from django.contrib.auth.hashers import check_password
from django.core import signing

from ruggedraft.core.errors import NotThere
from ruggedraft.crew.accounts import kept_of, new_secret
from ruggedraft.journal.clock import now

from .models import ClientLink, PasswordTry

_SIGNER = signing.Signer(salt="ruggedraft.delivering.link")
_NOTHING = "There is no such page, or it is not open any more."
_MOST_TRIES, _CLOSED_FOR = 10, timedelta(minutes=15)


def new_link() -> tuple[str, str]:
    """What goes into the address, and what is kept of it."""
    secret, _ = new_secret()
    carried = _SIGNER.sign(secret)
    return carried, kept_of(carried)


def link_of(carried: str) -> ClientLink:
    """Raises NotThere, and says the same whether it was guessed, expired, revoked or another's."""
    try:
        _SIGNER.unsign(carried)
    except signing.BadSignature as error:
        raise NotThere(_NOTHING) from error
    rows = ClientLink.objects.select_related("consignment__production", "consignment__by")
    found = rows.filter(secret=kept_of(carried), revoked_at=None, until__gt=now()).first()
    if found is None or found.consignment.withdrawn_at:
        raise NotThere(_NOTHING)
    return found


def let_in(link: ClientLink, password: str) -> bool:
    """Whether this is its password. After ten wrong ones within a quarter of an hour no other is looked at."""
    if PasswordTry.objects.filter(link=link, at__gt=now() - _CLOSED_FOR).count() >= _MOST_TRIES:
        return False
    if check_password(password[:200], link.hashed):
        return True
    PasswordTry.objects.create(link=link, at=now())
    return False


@dataclass(frozen=True)
class _Rate:
    most: int
    seconds: float


_OPEN, _GUESSES = _Rate(1200, 60), _Rate(30, 60)


class _Limits:
    """How often something was asked for lately, in this process; what is asked for seldom is forgotten."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._asked: TTLCache[str, deque[float]] = TTLCache(20_000, 600)

    def allows(self, who: str, rate: _Rate) -> bool:
        moment = time.monotonic()
        with self._lock:
            asked = self._asked.setdefault(who, deque())
            while asked and moment - asked[0] > rate.seconds:
                asked.popleft()
            if len(asked) >= rate.most:
                return False
            asked.append(moment)
            return True


_LIMITS = _Limits()


def may_guess(address: str) -> bool:
    """Whether somebody at this address may go on with links that open nothing."""
    return _LIMITS.allows(f"guess {address}", _GUESSES)


def may_ask(link: ClientLink, address: str) -> bool:
    """Whether somebody at this address may go on with this link."""
    return _LIMITS.allows(f"link {link.pk} {address}", _OPEN)
