"""Which rolls live on their stores alone: their card was cleared, or their files were taken off it here."""

from django.db.models import Exists, OuterRef, Q

from .models import Clearance, RemovedFile


def erased() -> Q:
    """Of a query of rolls: those whose card may be, or is, without them."""
    cleared = Clearance.rolls.through.objects.filter(roll=OuterRef("pk"))
    removed = RemovedFile.objects.filter(roll=OuterRef("pk"), trouble="")
    return Q(Exists(cleared)) | Q(Exists(removed))
