"""Somebody has it: from then on its rolls are delivered, and holds that waited for that are over."""

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
from ruggedraft.rolls.acts.say_delivered import note_delivered

from ..models import Consignment, Receipt

_MOST = 20


@transaction.atomic
def receive(
    consignment: Consignment, name: str, *, checked: bool, person: Person | None = None, origin: str = ""
) -> Receipt:
    """Note that it arrived. person: of the crew, who was told so; None: said on the client's page by this name

    checked: they compared the checksums. Only whole rolls count as delivered, and none that went on since. Raises
    ActRefused.
    """
    if person is not None:
        require(person, May.DELIVER, consignment.production_id)
    hold_still(consignment.production_id)
    consignment.refresh_from_db()
    name = one_line(name)[:80]
    if not name:
        raise ActRefused("Say who received it.")
    if consignment.withdrawn_at:
        raise ActRefused("This delivery was taken back.")
    if consignment.receipts.count() >= _MOST:
        raise ActRefused("It was said often enough that this arrived.")
    made = Receipt.objects.create(consignment=consignment, name=name, person=person, checked=checked, at=now())
    how = "and compared its checksums" if checked else "and did not compare its checksums"
    where = "" if person else " on the client's page"
    words = f"{name} said{where} that the delivery to {consignment.to} arrived, {how}."
    write("receive delivery", consignment.to, words, person=person, origin=origin,
          production=consignment.production_id, detail={"consignment": consignment.pk})  # fmt: skip
    rows = consignment.rolls.filter(files=None).select_related("roll").order_by("pk")
    whole = [one.roll for one in rows if not one.roll.takes.filter(pk__gt=one.until).exists()]
    note_delivered(person or consignment.by, whole, consignment.to)
    changed(Topic.DELIVERIES, production=consignment.production_id)
    return made
