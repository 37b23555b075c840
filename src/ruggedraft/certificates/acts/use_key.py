"""The key of a production: made when it is first needed, and made anew when somebody wants it."""

from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey
from django.db import transaction

from ruggedraft.core.certificates import fingerprint
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Production

from ..keys import kept_key, new_key
from ..models import SigningKey


@transaction.atomic
def key_in_use(production: Production) -> Ed25519PrivateKey:
    """What certificates of a production are signed with. Raises ActRefused where it is not on this machine."""
    last = _last(production)
    if last is None:
        hold_still(production.pk)
        last = _last(production)
    return _made(production, None) if last is None else kept_key(production, bytes(last.public))


@transaction.atomic
def make_new_key(person: Person, production: Production) -> str:
    """Sign with another key from now on; its fingerprint. Certificates that were handed out stay what they are."""
    require(person, May.SET_UP, production.pk)
    hold_still(production.pk)
    return fingerprint(_made(production, person).public_key().public_bytes_raw())


def _last(production: Production) -> SigningKey | None:
    return SigningKey.objects.filter(production=production).order_by("-pk").first()


def _made(production: Production, person: Person | None) -> Ed25519PrivateKey:
    key = new_key(production)
    public = key.public_key().public_bytes_raw()
    SigningKey.objects.create(production=production, public=public, since=now(), person=person)
    words = f"Certificates of {production.name} are signed with a new key: {fingerprint(public)}."
    detail: dict[str, object] = {"public": public.hex()}
    write("new key", production.name, words, person=person, production=production.pk, detail=detail)
    changed(Topic.SETUP, production=production.pk)
    return key
