"""Placing and lifting a hold: one act and its inverse."""

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.models import Roll

from ..models import Hold


@transaction.atomic
def place_hold(person: Person, roll: Roll, reason: str) -> Hold:
    """Hold a roll's card back, whatever its copies say."""
    require(person, May.HOLD)
    hold_still(roll.production_id)
    if not reason.strip():
        raise ActRefused("A hold needs a reason, so that somebody knows when it may be lifted.")
    hold = Hold.objects.create(roll=roll, reason=reason.strip()[:300], placed_at=now(), placed_by=person)
    write("hold", roll.tag, f"{roll.tag} is on hold: {hold.reason}", person=person, production=roll.production_id)
    changed(Topic.CARDS, Topic.ROLLS, rolls=[roll.tag])
    return hold


@transaction.atomic
def lift_hold(person: Person, hold: Hold) -> None:
    require(person, May.LIFT_HOLD)
    hold_still(hold.roll.production_id)
    hold.refresh_from_db()
    if hold.lifted_at:
        raise ActRefused("This hold was lifted already.")
    hold.lifted_at, hold.lifted_by = now(), person
    hold.save(update_fields=["lifted_at", "lifted_by"])
    write(
        "lift hold",
        hold.roll.tag,
        f"The hold on {hold.roll.tag} was lifted: {hold.reason}",
        person=person,
        production=hold.roll.production_id,
    )
    changed(Topic.CARDS, Topic.ROLLS, rolls=[hold.roll.tag])
