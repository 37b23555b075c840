from django.db import transaction

from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.notify import changed

from ..models import Device, DeviceLoss


@transaction.atomic
def report_loss(person: Person, device: Device, reason: str) -> DeviceLoss:
    """Report a device lost: from this moment nothing on it counts."""
    require(person, May.REPORT_LOSS)
    Device.objects.select_for_update().get(pk=device.pk)
    loss = DeviceLoss.objects.create(device=device, reported_at=now(), reported_by=person, reason=reason)
    write("report loss", device.name, f"Device '{device.name}' was reported lost: {reason}", person=person)
    changed("stores", "rolls")
    return loss
