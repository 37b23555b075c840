from django.conf import settings
from django.db import models

from ruggedraft.productions.models import UnitAway


class UnitSecret(models.Model):
    """What a unit's files are sealed with, the same in both ledgers: so that nobody else wrote them. Hex, 32 bytes."""

    unit = models.OneToOneField(UnitAway, on_delete=models.PROTECT, primary_key=True, related_name="+")
    secret = models.CharField(max_length=64)


class UnitRow(models.Model):
    """Which row here is which of a unit's, so that the same thing handed in twice is one. kind: of line; see `lines`"""

    unit = models.ForeignKey(UnitAway, on_delete=models.PROTECT, related_name="rows")
    kind = models.CharField(max_length=12)
    theirs = models.BigIntegerField()
    ours = models.BigIntegerField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["unit", "kind", "theirs"], name="a_row_of_a_unit_once")]


class UnitEntry(models.Model):
    """A row of a unit's journal, with everything that its seal is over, and the seal before it. Append-only.

    row: as `lines.EntryLine` data
    """

    unit = models.ForeignKey(UnitAway, on_delete=models.PROTECT, related_name="entries")
    number = models.BigIntegerField()
    row = models.JSONField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["unit", "number"], name="an_entry_of_a_unit_once")]


class UnitJoin(models.Model):
    """A unit's file was taken in. sha256: of it. conflicts: sentences, each about something that was not taken in"""

    unit = models.ForeignKey(UnitAway, on_delete=models.PROTECT, related_name="joins")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    sha256 = models.CharField(max_length=64)
    rolls = models.PositiveIntegerField()
    copies = models.PositiveIntegerField()
    conflicts = models.JSONField(default=list)
