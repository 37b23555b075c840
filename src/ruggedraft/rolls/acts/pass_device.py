from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.wording import one_line
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write_in_each
from ruggedraft.kit.models import Custody, Device, Location
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_all_still
from ruggedraft.stores.queries import productions_of


@transaction.atomic
def pass_device(
    person: Person, device: Device, to: Person | None, *, outside: str = "", place: Location | None = None,
    note: str = "",
) -> Custody:  # fmt: skip
    """Say who has a device now: somebody of the crew, somebody by name, or nobody, as it lies somewhere.

    place: where it is with them, of those that are known; None: where it was. Rules count places: two drives in one
    van are in one place, whoever carries them. Raises ActRefused.
    """
    shared = productions_of(*device.stores.all())
    require(person, May.CARRY, *shared)
    hold_all_still()
    device = Device.objects.select_for_update(no_key=True, of=("self",)).select_related("location").get(pk=device.pk)
    outside = checked_holder(to, outside)
    moved = _move(device, place)
    if not moved and _is_known(device, to, outside):
        raise ActRefused(f"{_who(to, outside)} '{device.name}' already. Nothing was changed.")
    given = Custody.objects.create(
        device=device, holder=to, outside=outside, place=device.location, note=one_line(note)[:200], by=person, at=now()
    )
    words = f"{_who(to, outside)} '{device.name}' now; it is at {device.location.name}{off_site(device.location)}."
    write_in_each(shared, "pass device", device.name, words + said(given.note), person=person)
    changed(Topic.STORES, *((Topic.ROLLS, Topic.CARDS, Topic.SETUP) if moved else ()))
    return given


def _move(device: Device, place: Location | None) -> bool:
    """Whether it is in another place by that."""
    if place is None or place.pk == device.location_id:
        return False
    device.location = place
    device.save(update_fields=["location"])
    return True


def _is_known(device: Device, to: Person | None, outside: str) -> bool:
    """Whether that is what was said last."""
    last = Custody.objects.filter(device=device).order_by("-pk").first()
    return last is not None and (last.holder_id, last.outside) == (to.pk if to else None, outside)


def checked_holder(to: Person | None, outside: str) -> str:
    """The name of somebody who has no account; empty where it is somebody of the crew. Raises ActRefused."""
    outside = one_line(outside)[:80]
    if to and outside:
        raise ActRefused("Say one person who has it.")
    if to and not to.is_active:
        raise ActRefused(f"{to.shown_name} is not on the crew any more.")
    return outside


def off_site(place: Location) -> str:
    return ", which is off-site" if place.offsite else ""


def said(note: str) -> str:
    return f" Said with it: {note}." if note else ""


def _who(to: Person | None, outside: str) -> str:
    name = to.shown_name if to else outside
    return f"{name} has" if name else "Nobody carries"
