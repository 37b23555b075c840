"""Saying that rolls were given to whom they were made for, and taking that back."""

from collections.abc import Sequence

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.wording import one_line
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Production

from ..models import Delivery, Roll


@transaction.atomic
def say_delivered(person: Person, production: Production, tags: Sequence[str], to: str) -> list[Delivery]:
    """Say to whom rolls were delivered: holds that wait for that are over."""
    require(person, May.DELIVER, production.pk)
    hold_still(production.pk)
    to = one_line(to)[:120]
    if not to:
        raise ActRefused("Say to whom it was delivered: holds end by that.")
    made = note_delivered(person, _rolls(production, tags), to)
    if not made:
        raise ActRefused("All of this was delivered already.")
    return made


def note_delivered(person: Person, rolls: Sequence[Roll], to: str) -> list[Delivery]:
    """Those that were not before are delivered from now on. For whoever holds everything still, and said who may."""
    known = set(Delivery.objects.filter(roll__in=rolls, withdrawn_at=None).values_list("roll", flat=True))
    new = [roll for roll in rolls if roll.pk not in known]
    made = [Delivery.objects.create(roll=roll, person=person, at=now(), to=to) for roll in new]
    for roll in new:
        write("deliver", roll.tag, f"{roll.tag} was delivered to {to}.", person=person, production=roll.production_id)
    if new:
        tags = [roll.tag for roll in new]
        changed(Topic.ROLLS, Topic.CARDS, rolls=tags, production=new[0].production_id)
    return made


@transaction.atomic
def take_delivery_back(person: Person, production: Production, tag: str) -> None:
    """Say that a roll was not delivered after all: holds that waited for that hold again."""
    require(person, May.DELIVER, production.pk)
    hold_still(production.pk)
    (roll,) = _rolls(production, [tag])
    taken = Delivery.objects.filter(roll=roll, withdrawn_at=None).update(withdrawn_at=now(), withdrawn_by=person)
    if not taken:
        raise ActRefused(f"{tag} was not delivered.")
    write("not delivered", tag, f"{tag} was not delivered after all.", person=person, production=production.pk)
    changed(Topic.ROLLS, Topic.CARDS, rolls=[tag], production=production.pk)


def _rolls(production: Production, tags: Sequence[str]) -> list[Roll]:
    rolls = list(Roll.objects.filter(production=production, tag__in=tags).order_by("pk"))
    missing = sorted(set(tags) - {roll.tag for roll in rolls})
    if missing or not rolls:
        raise ActRefused(f"There is no roll {', '.join(missing) or '(none was named)'} in {production.name}.")
    return rolls
