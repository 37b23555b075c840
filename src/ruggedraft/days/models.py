from django.conf import settings
from django.db import models

from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll


class RollMaterial(models.Model):
    """What a roll's clips come to, as they were understood under `key`: remembered, so that a day is not read anew.

    It is for looking at: no verdict rests on it. Not looked at once the roll's files, headers or clock are others
    seconds: of all recordings whose length a header tells; untold: how many there are of which none does
    bars: of each clip that has a time its start and its length, in seconds since 1970-01-01 UTC, in shooting order
    """

    roll = models.OneToOneField(Roll, primary_key=True, on_delete=models.CASCADE, related_name="material")
    key = models.TextField()
    clips = models.PositiveIntegerField()
    seconds = models.FloatField()
    untold = models.PositiveIntegerField()
    bars = models.JSONField()


class FrozenDay(models.Model):
    """The account of a shoot day as it was when a shift was handed over. Append-only; what came later is marked.

    account: `core.accounts.DayAccount` as JSON text; the hand-over's row in the journal holds its SHA-256
    """

    production = models.ForeignKey(Production, on_delete=models.PROTECT, related_name="frozen_days")
    day = models.DateField()
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    account = models.TextField()

    class Meta:
        indexes = [models.Index(fields=["production", "day"], name="frozen_days_of_a_day")]
