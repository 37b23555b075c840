from django.conf import settings
from django.db import models

from ruggedraft.kit.models import Station
from ruggedraft.stores.models import Store


class StoreSearch(models.Model):
    """Somebody had a store looked through for rolls. By names and sizes: what is there proves nothing yet.

    trouble: why it could not be looked through. files, bytes: of everything on it
    rolls: [roll's id, folder, files, bytes] of each that was recognised. strangers: [folder, files, bytes] of what
        belongs to no roll, the largest; strangers_left: how many more such folders there are
    """

    store = models.ForeignKey(Store, on_delete=models.PROTECT, related_name="searches")
    station = models.ForeignKey(Station, on_delete=models.PROTECT, related_name="+")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    asked_at = models.DateTimeField()
    finished_at = models.DateTimeField(null=True)
    trouble = models.CharField(max_length=300, blank=True)
    files = models.PositiveIntegerField(default=0)
    bytes = models.BigIntegerField(default=0)
    rolls = models.JSONField(default=list)
    strangers = models.JSONField(default=list)
    strangers_left = models.PositiveIntegerField(default=0)
