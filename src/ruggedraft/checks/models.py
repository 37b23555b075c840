from django.conf import settings
from django.db import models

from ruggedraft.kit.models import Station
from ruggedraft.rolls.models import Copy


class CheckRun(models.Model):
    """Somebody asked for a copy to be read again. The result is a `rolls.Check`, or `trouble`."""

    copy = models.ForeignKey(Copy, on_delete=models.PROTECT, related_name="check_runs")
    station = models.ForeignKey(Station, on_delete=models.PROTECT, related_name="+")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    asked_at = models.DateTimeField()
    finished_at = models.DateTimeField(null=True)
    trouble = models.TextField(blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["copy"], condition=models.Q(finished_at=None), name="one_open_check_a_copy")
        ]
