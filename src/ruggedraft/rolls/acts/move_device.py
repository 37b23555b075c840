from django.db import transaction

from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write_in_each
from ruggedraft.kit.models import Device, Location
from ruggedraft.kit.queries import place_named
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_all_still
from ruggedraft.stores.queries import productions_of


@transaction.atomic
def move_device(person: Person, device: Device, place: str, *, offsite: bool) -> None:
    """Say where a device is now, and whether that is off-site: rules count places.

    Whether a place is off-site is said of the place, and so of every device there.
    """
    require(person, May.KEEP_STORES, *productions_of(*device.stores.all()))
    hold_all_still()
    device = Device.objects.select_for_update(no_key=True).get(pk=device.pk)
    location = place_named(place)
    if (device.location_id, location.offsite) == (location.pk, offsite):
        return
    Location.objects.filter(pk=location.pk).update(offsite=offsite)
    device.location = location
    device.save(update_fields=["location"])
    words = f"'{device.name}' is at {location.name} now, which is {'off-site' if offsite else 'not off-site'}."
    write_in_each(productions_of(*device.stores.all()), "move device", device.name, words, person=person)
    changed(Topic.STORES, Topic.ROLLS, Topic.CARDS, Topic.SETUP)
