from django.conf import settings
from django.db import models
from django.db.models.functions import MD5

from ruggedraft.core.evidence import Evidence
from ruggedraft.intake.models import Card
from ruggedraft.productions.models import Camera, Production
from ruggedraft.stores.models import Store


class Roll(models.Model):
    """What one card holds between two formats. The card is reused, the roll is for ever."""

    production = models.ForeignKey(Production, on_delete=models.PROTECT, related_name="rolls")
    camera = models.ForeignKey(Camera, on_delete=models.PROTECT, related_name="rolls")
    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="rolls")
    number = models.PositiveIntegerField()
    tag = models.CharField(max_length=20)
    shoot_day = models.DateField()
    opened_at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["camera", "number"], name="roll_number_once"),
            models.UniqueConstraint(fields=["production", "tag"], name="roll_tag_once"),
        ]


class RollFile(models.Model):
    """A file of a roll as it was read off the card, once for all copies. Paths are in the ledger's form.

    kept_as: its path in the copies' folders, where that is not the card's own
    others: further checksums of the same reading, by algorithm
    """

    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="files")
    path = models.TextField()
    size = models.BigIntegerField()
    modified_ns = models.BigIntegerField()
    algorithm = models.CharField(max_length=10)
    checksum = models.CharField(max_length=128)
    kept_as = models.TextField(blank=True)
    others = models.JSONField(default=dict)

    class Meta:
        constraints = [
            # by digest: an index row holds less than the longest path there can be
            models.UniqueConstraint("roll", MD5("path"), name="roll_file_once")
        ]
        indexes = [
            # what a card that comes back is matched by; two files seldom share both
            models.Index(fields=["modified_ns", "size"], name="roll_file_by_time"),
            models.Index(fields=["checksum"], name="roll_file_by_checksum"),
        ]


class LeftBehind(models.Model):
    """A file that stayed on the card on purpose when the roll was taken. Whether it may be lost is not said by that."""

    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="left_behind")
    path = models.TextField()
    size = models.BigIntegerField()
    modified_ns = models.BigIntegerField()
    at = models.DateTimeField()
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint("roll", MD5("path"), "size", "modified_ns", name="left_behind_once")]


class Copy(models.Model):
    """A roll on a store, wanted from the moment the row exists. How good it is follows from its checks and faults."""

    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="copies")
    store = models.ForeignKey(Store, on_delete=models.PROTECT, related_name="copies")
    folder = models.CharField(max_length=1000)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["roll", "store"], name="copy_once")]


class Check(models.Model):
    """A finished reading of a copy. Append-only evidence.

    whole: every file of the roll was looked at; else only some (an offload of what was new)
    level: the weakest evidence among the files that agreed
    files_until: the roll's newest file (its id) when this was noted. The check says nothing of files that joined the
        roll later: until another check speaks for them, the copy does not hold them.
    """

    copy = models.ForeignKey(Copy, on_delete=models.PROTECT, related_name="checks")
    at = models.DateTimeField()
    origin = models.CharField(max_length=10, choices=[("offload", "offload"), ("check", "check"), ("feed", "feed")])
    level = models.PositiveSmallIntegerField(choices=[(e.value, e.words) for e in Evidence])
    whole = models.BooleanField()
    agreed_files = models.PositiveIntegerField()
    agreed_bytes = models.BigIntegerField()
    files_until = models.BigIntegerField()

    class Meta:
        ordering = ["id"]


class CopyFault(models.Model):
    """A file of the roll that a copy lacks or holds wrongly, until a check finds it mended.

    A copy holds every file its last check speaks for that has no open fault: ten copies do not make ten times the rows.
    """

    copy = models.ForeignKey(Copy, on_delete=models.PROTECT, related_name="faults")
    file = models.ForeignKey(RollFile, on_delete=models.PROTECT, related_name="faults")
    reason = models.TextField()
    found_by = models.ForeignKey(Check, on_delete=models.PROTECT, related_name="found")
    mended_by = models.ForeignKey(Check, null=True, on_delete=models.PROTECT, related_name="mended")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["copy", "file"], condition=models.Q(mended_by=None), name="open_fault_once")
        ]
