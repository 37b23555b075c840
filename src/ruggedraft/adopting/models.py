from django.conf import settings
from django.db import models

from ruggedraft.core.comparing import Kind
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


class LongReading(models.Model):
    """Something is looked through, or read whole, at a station, because somebody asked; see `reading_along`.

    trouble: why it could not be done
    by_content: everything was read, besides names and sizes. read: bytes so far, as of `read_at`
    """

    station = models.ForeignKey(Station, on_delete=models.PROTECT, related_name="+")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    asked_at = models.DateTimeField()
    finished_at = models.DateTimeField(null=True)
    trouble = models.CharField(max_length=300, blank=True)
    by_content = models.BooleanField(default=False)
    read = models.BigIntegerField(default=0)
    read_at = models.DateTimeField(null=True)
    stopped_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        abstract = True


class StoreComparison(LongReading):
    """Somebody had a store compared with another, or with what the ledger knows of it; one way.

    left: None for the ledger
    cached: files that may have come from this machine's memory: of those nothing is known
    left_files, left_bytes, right_files, right_bytes: of each side in all
    doubted: copies that are read again, or looked at, as something was found in them
    kinds: [files, bytes] of each kind, by its name. no_roll: how many of the missing belong to no roll
    """

    left = models.ForeignKey(Store, null=True, on_delete=models.PROTECT, related_name="+")
    right = models.ForeignKey(Store, on_delete=models.PROTECT, related_name="+")
    cached = models.PositiveIntegerField(default=0)
    left_files = models.PositiveIntegerField(default=0)
    left_bytes = models.BigIntegerField(default=0)
    right_files = models.PositiveIntegerField(default=0)
    right_bytes = models.BigIntegerField(default=0)
    kinds = models.JSONField(default=dict)
    no_roll = models.PositiveIntegerField(default=0)
    doubted = models.PositiveIntegerField(default=0)

    @property
    def identical(self) -> bool:
        """Both sides hold the same, and nothing else."""
        same = self.kinds.get(Kind.IDENTICAL, [0, 0])[0]
        return bool(self.left_files == self.right_files == same) and not self.cached


class ComparisonRow(models.Model):
    """A file that is not identical. n: its place in the order. left, right: bytes, None where it is not there

    elsewhere: where it stands on the right. reason: why it could not be read
    """

    comparison = models.ForeignKey(StoreComparison, on_delete=models.CASCADE, related_name="rows", db_index=False)
    n = models.PositiveIntegerField()
    kind = models.CharField(max_length=16, choices=[(kind.value, kind.value) for kind in Kind])
    path = models.TextField()
    left = models.BigIntegerField(null=True)
    right = models.BigIntegerField(null=True)
    elsewhere = models.TextField(blank=True)
    reason = models.TextField(blank=True, default="")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["comparison", "n"], name="comparison_row_once")]
