"""Placing and lifting a hold: one act and its inverse."""

from datetime import datetime

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import HoldEnd
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Camera
from ruggedraft.rolls.models import Roll

from ..models import Hold
from ..refusals import noted_when_refused


@noted_when_refused("place a hold")
@transaction.atomic
def place_hold(
    person: Person,
    on: Roll | Card | Camera,
    reason: str,
    *,
    ends: HoldEnd = HoldEnd.LIFTED,
    until: datetime | None = None,
    refusal: bool = False,
) -> Hold:
    """Hold a roll's card back, a card, or whatever a camera shot, whatever the copies say.

    ends, until: what ends it beside somebody lifting it; see `core.redundancy.HoldEnd`
    refusal: it says that somebody would not sign
    """
    hold = Hold(**_where(on), ends=ends.value, until=until if ends is HoldEnd.DATE else None, refusal=refusal)
    require(person, May.SIGN if refusal else May.HOLD, hold.production_id)
    hold_still(hold.production_id)
    hold.reason, hold.placed_at, hold.placed_by = reason.strip()[:300], now(), person
    _refuse(hold)
    hold.save()
    if refusal:
        words = f"{person.shown_name} would not sign for {hold.on}: {hold.reason}"
        write("refuse to sign", hold.subject, words, person=person, production=hold.production_id)
    else:
        words = f"{hold.on} is on hold{_ends(hold)}: {hold.reason}"
        write("hold", hold.subject, words, person=person, production=hold.production_id)
    _tell(hold)
    return hold


def _where(on: Roll | Card | Camera) -> dict[str, Roll | Card | Camera]:
    if isinstance(on, Roll):
        return {"roll": on}
    return {"card": on} if isinstance(on, Card) else {"camera": on}


def _refuse(hold: Hold) -> None:
    if not hold.reason:
        raise ActRefused("A hold needs a reason, so that somebody knows when it may be lifted.")
    if hold.ends == HoldEnd.DATE and (hold.until is None or hold.until <= now()):
        raise ActRefused("A hold that ends by itself needs a moment that is still to come.")
    if hold.ends == HoldEnd.DELIVERED and hold.roll and hold.roll.deliveries.filter(withdrawn_at=None).exists():
        raise ActRefused(f"{hold.roll.tag} was delivered already: a hold until delivery would hold nothing.")
    same = Hold.objects.filter(
        roll=hold.roll, card=hold.card, camera=hold.camera, reason=hold.reason, lifted_at=None, refusal=hold.refusal
    )
    if same.filter(placed_by=hold.placed_by).exists():
        raise ActRefused(f"You have said this of {hold.on} already, and it stands.")


def _ends(hold: Hold) -> str:
    if hold.ends == HoldEnd.DATE and hold.until:
        return f" until {hold.until:%Y-%m-%d %H:%M} UTC"
    if hold.ends == HoldEnd.DELIVERED:
        return " until it is delivered"
    return " until a second person has signed" if hold.ends == HoldEnd.SECOND_SIGNATURE else ""


@noted_when_refused("lift a hold")
@transaction.atomic
def lift_hold(person: Person, hold: Hold, why: str = "") -> None:
    """End a hold. A refusal to sign is taken back by the one who refused, or by whoever may lift any hold."""
    if not (hold.refusal and hold.placed_by_id == person.pk):
        require(person, May.LIFT_HOLD, hold.production_id)
    hold_still(hold.production_id)
    hold.refresh_from_db()
    if hold.lifted_at:
        raise ActRefused("This hold was lifted already.")
    end_hold(hold, person, why)
    reason = f" ({hold.lifted_why})" if hold.lifted_why else ""
    what = "refusal to sign for" if hold.refusal else "hold on"
    sentence = f"The {what} {hold.on} was lifted{reason}: {hold.reason}"
    write("lift hold", hold.subject, sentence, person=person, production=hold.production_id)
    _tell(hold)


def end_hold(hold: Hold, person: Person, why: str) -> None:
    """For whoever holds everything still."""
    hold.lifted_at, hold.lifted_by, hold.lifted_why = now(), person, why.strip()[:300]
    hold.save(update_fields=["lifted_at", "lifted_by", "lifted_why"])


def _tell(hold: Hold) -> None:
    changed(
        Topic.CARDS,
        Topic.ROLLS,
        rolls=[hold.roll.tag] if hold.roll else (),
        cards=[hold.card.label] if hold.card else (),
        production=hold.production_id,
    )
