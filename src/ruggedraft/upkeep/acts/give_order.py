from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Location
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Production
from ruggedraft.stores.models import Store

from ..models import StandingOrder
from ..pacing import Pacing


@transaction.atomic
def give_order(
    person: Person,
    production: Production,
    to: Store,
    pacing: Pacing,
    *,
    from_store: Store | None = None,
    from_place: Location | None = None,
) -> StandingOrder:
    """From now on bring whatever is whole and read back (there, or anywhere) to a store. Raises ActRefused."""
    require(person, May.KEEP_STORES, production.pk)
    hold_still(production.pk)
    pacing.require_sense()
    if from_store == to:
        raise ActRefused(f"What is on '{to.name}' is there already: say another store to bring it to.")
    if to.retired_at:
        raise ActRefused(f"'{to.name}' is out of service: say another store.")
    if to.system_disk_reason:
        raise ActRefused(f"'{to.name}' is on this computer's own disk, where no copy counts: say another store.")
    same = StandingOrder.objects.filter(
        production=production, to_store=to, from_store=from_store, from_place=from_place, withdrawn_at=None
    )
    if same.exists():
        raise ActRefused(f"There is such an order to '{to.name}' already: withdraw it first, to give another.")
    order = StandingOrder.objects.create(
        production=production, to_store=to, from_store=from_store, from_place=from_place,
        begins=pacing.hours.begin, ends=pacing.hours.end, rate=pacing.rate, person=person, at=now(),
    )  # fmt: skip
    write("give order", to.name, f"{sentence_of(order)}.", person=person, production=production.pk)
    changed(Topic.STORES)
    return order


def sentence_of(order: StandingOrder) -> str:
    """What it says, without its end."""
    where = f" on '{order.from_store.name}'" if order.from_store else ""
    where = f" at {order.from_place.name}" if order.from_place else where
    pacing = Pacing(order.hours, order.rate)
    return f"Whatever is verified{where} goes to '{order.to_store.name}' by itself{pacing.words}"


@transaction.atomic
def withdraw_order(person: Person, production: Production, order_id: int) -> None:
    """Nothing more is brought by it. What is under way goes to its end. Raises ActRefused."""
    require(person, May.KEEP_STORES, production.pk)
    hold_still(production.pk)
    order = StandingOrder.objects.filter(pk=order_id, production=production, withdrawn_at=None).first()
    if order is None:
        raise ActRefused("There is no such order any more.")
    order.withdrawn_at, order.withdrawn_by = now(), person
    order.save(update_fields=["withdrawn_at", "withdrawn_by"])
    write("withdraw order", order.to_store.name, f"No more: {sentence_of(order)}.", person=person,
          production=production.pk)  # fmt: skip
    changed(Topic.STORES)
