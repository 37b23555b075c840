"""Which rolls live on their stores alone: their card was cleared, here or by a unit away, or their files taken off."""

from django.db.models import Exists, OuterRef, Q

from .models import Clearance, ClearedElsewhere, RemovedFile


def erased() -> Q:
    """Of a query of rolls: those whose card may be, or is, without them."""
    cleared = Clearance.rolls.through.objects.filter(roll=OuterRef("pk"))
    removed = RemovedFile.objects.filter(roll=OuterRef("pk"), trouble="")
    elsewhere = ClearedElsewhere.rolls.through.objects.filter(roll=OuterRef("pk"))
    return Q(Exists(cleared)) | Q(Exists(removed)) | Q(Exists(elsewhere))
