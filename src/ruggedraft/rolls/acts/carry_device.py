from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write_in_each
from ruggedraft.kit.models import Device
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.stores.queries import productions_of


@transaction.atomic
def carry_device(person: Person, device: Device, carrier: Person | None) -> None:
    """Say in whose bag a device is; None: in nobody's. Where it counts as being does not change by that."""
    require(person, May.REPORT_LOSS, *productions_of(*device.stores.all()))
    device = Device.objects.select_for_update().get(pk=device.pk)
    if carrier and not carrier.is_active:
        raise ActRefused(f"{carrier.shown_name} is not on the crew any more.")
    if device.carried_by_id == (carrier.pk if carrier else None):
        return
    Device.objects.filter(pk=device.pk).update(carried_by=carrier)
    words = f"{carrier.shown_name} has '{device.name}' now." if carrier else f"Nobody carries '{device.name}' any more."
    write_in_each(productions_of(*device.stores.all()), "carry device", device.name, words, person=person)
    changed(Topic.STORES)
