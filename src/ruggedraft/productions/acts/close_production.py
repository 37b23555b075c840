from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Production


@transaction.atomic
def close_production(person: Person, production: Production) -> None:
    """Nothing new is offloaded for it. What runs goes on, and what is not clear stays so: verdicts are as before."""
    require(person, May.SET_UP, production.pk)
    production = Production.objects.select_for_update(no_key=True).get(pk=production.pk)
    if production.closed_at:
        raise ActRefused(f"{production.name} is closed already.")
    Production.objects.filter(pk=production.pk).update(closed_at=now())
    write("close production", production.name, f"{person.shown_name} closed {production.name}.", person=person,
          production=production.pk)  # fmt: skip
    changed(Topic.SETUP, Topic.READERS)


@transaction.atomic
def open_again(person: Person, production: Production) -> None:
    require(person, May.SET_UP, production.pk)
    production = Production.objects.select_for_update(no_key=True).get(pk=production.pk)
    if not production.closed_at:
        raise ActRefused(f"{production.name} is not closed.")
    Production.objects.filter(pk=production.pk).update(closed_at=None)
    write("open production again", production.name, f"{person.shown_name} opened {production.name} again.",
          person=person, production=production.pk)  # fmt: skip
    changed(Topic.SETUP, Topic.READERS)


def refuse_closed(production: Production) -> None:
    """Raises ActRefused."""
    if production.closed_at:
        raise ActRefused(
            f"{production.name} is closed: open it again in Set-up, or give the card to a camera of another production."
        )
