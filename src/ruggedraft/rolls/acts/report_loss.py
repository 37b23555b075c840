"""Reporting a device lost, and found again."""

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require_in_one
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write_in_each
from ruggedraft.kit.models import Device, DeviceLoss
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_all_still
from ruggedraft.stores.queries import productions_of

from ..queries import last_evidence


@transaction.atomic
def report_loss(person: Person, device: Device, reason: str) -> DeviceLoss:
    """Report a device lost: from this moment nothing on it counts, anywhere."""
    require_in_one(person, May.REPORT_LOSS, productions_of(*device.stores.all()))
    hold_all_still()
    if not reason.strip():
        raise ActRefused("Say what happened to it, so that somebody knows where to look.")
    if DeviceLoss.objects.filter(device=device, found_at=None).exists():
        raise ActRefused(f"Device '{device.name}' is reported lost already.")
    loss = DeviceLoss.objects.create(device=device, reported_at=now(), reported_by=person, reason=reason.strip()[:300])
    write_in_each(
        productions_of(*device.stores.all()),
        "report loss",
        device.name,
        f"Device '{device.name}' was reported lost: {loss.reason}",
        person=person,
    )
    changed(Topic.STORES, Topic.ROLLS, Topic.CARDS)
    return loss


@transaction.atomic
def report_found(person: Person, device: Device) -> None:
    """A lost device is here again. Nothing on it counts before it has been checked: nobody knows where it was."""
    require_in_one(person, May.REPORT_LOSS, productions_of(*device.stores.all()))
    hold_all_still()
    loss = DeviceLoss.objects.filter(device=device, found_at=None).first()
    if loss is None:
        raise ActRefused(f"Device '{device.name}' is not reported lost.")
    loss.found_at, loss.found_by, loss.found_after = now(), person, last_evidence()
    loss.save(update_fields=["found_at", "found_by", "found_after"])
    sentence = f"Device '{device.name}' was found. What is on it counts again once it has been checked."
    write_in_each(productions_of(*device.stores.all()), "report found", device.name, sentence, person=person)
    changed(Topic.STORES, Topic.ROLLS, Topic.CARDS)
