from collections.abc import Sequence
from urllib.parse import urlsplit

from django.db import transaction

from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.core.news import NewsKind, new_secret
from ruggedraft.core.wording import is_name, one_line
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Plan, Production

from ..models import Hook
from ..secrets import sealed


@transaction.atomic
def tell_program(
    person: Person, production: Production, *, name: str, address: str, kinds: Sequence[NewsKind], plan: str = ""
) -> str:
    """Have another program told of these kinds of news. Returns the secret that it checks them with, this once.

    plan: by name; only what is about rolls of its cameras
    Raises ActRefused for an address that is none, and where this server has no key.
    """
    require(person, May.SET_UP, production.pk)
    name = one_line(name)
    if not is_name(name, 80):
        raise ActRefused("A program has a name of 1 to 80 signs.")
    if not kinds:
        raise ActRefused("Say what the program is to be told of.")
    checked_address(address)
    of = Plan.objects.filter(production=production, name=plan).first() if plan else None
    if plan and of is None:
        raise ActRefused(f"There is no plan '{plan}'.")
    secret = new_secret()
    Hook.objects.create(
        production=production, name=name, address=address, kinds=sorted({kind.value for kind in kinds}),
        sealed=sealed(secret, address), by=person, at=now(), plan=of,
    )  # fmt: skip
    which = f" of rolls of plan '{plan}'" if plan else ""
    words = f"Program '{name}' at {urlsplit(address).hostname} is told{which} of: {', '.join(sorted(kinds))}."
    write("tell program", name, words, person=person, production=production.pk)
    changed(Topic.NEWS, production=production.pk)
    return secret


def checked_address(address: str) -> str:
    """Raises ActRefused."""
    try:
        parts = urlsplit(address)
        good = parts.scheme in ("http", "https") and bool(parts.hostname) and not parts.username and len(address) <= 500
        _ = parts.port
    except ValueError:
        good = False
    if not good or not address.isprintable() or " " in address:
        raise ActRefused("A program is reached at an address such as https://office.example/news, without a password.")
    return address


@transaction.atomic
def tell_no_more(person: Person, production: Production, hook_id: int) -> None:
    require(person, May.SET_UP, production.pk)
    hook = Hook.objects.select_for_update(no_key=True).filter(pk=hook_id, production=production).first()
    if hook is None:
        raise NotThere("There is no such program.")
    if hook.ended_at is None:
        hook.ended_at, hook.sealed = now(), b""
        hook.save(update_fields=["ended_at", "sealed"])
        words = f"Program '{hook.name}' is told nothing any more."
        write("tell program no more", hook.name, words, person=person, production=production.pk)
        changed(Topic.NEWS, production=production.pk)
