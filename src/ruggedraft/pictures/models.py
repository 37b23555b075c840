from django.conf import settings
from django.db import models

from ruggedraft.core.pictures import PictureKind
from ruggedraft.rolls.models import Copy, Roll, RollFile


class FileSeen(models.Model):
    """A roll's file was gone through for pictures. note: why there are fewer than there could be, if there are

    light_at: when a light copy was made of it, or could not be; light_note: why it could not
    """

    file = models.OneToOneField(RollFile, on_delete=models.CASCADE, primary_key=True, related_name="seen")
    at = models.DateTimeField()
    note = models.CharField(max_length=200, blank=True)
    light_at = models.DateTimeField(null=True)
    light_note = models.CharField(max_length=200, blank=True)


class RollSeen(models.Model):
    """All clips of a roll were gone through, when so much of its content had changed.

    content: as `rolls.Roll.content` counts it
    """

    roll = models.OneToOneField(Roll, on_delete=models.CASCADE, primary_key=True, related_name="seen")
    content = models.BigIntegerField()


class Picture(models.Model):
    """One picture of a roll's file. What it is of never changes, and neither does it.

    digest: SHA-256 of the picture, under which it is kept. size: its bytes
    shown_on: the day on which somebody looked at it last
    """

    file = models.ForeignKey(RollFile, on_delete=models.CASCADE, related_name="pictures", db_index=False)
    kind = models.CharField(max_length=8, choices=[(one.value, one.value) for one in PictureKind])
    digest = models.CharField(max_length=64, db_index=True)
    size = models.IntegerField()
    at = models.DateTimeField()
    shown_on = models.DateField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["file", "kind"], name="a_picture_of_each_kind")]


class Parcel(models.Model):
    """A picture on its way from a station on another machine to where pictures are kept. It does not stay here."""

    digest = models.CharField(max_length=64, primary_key=True)
    data = models.BinaryField()


class DecodingAsked(models.Model):
    """Somebody wants to know whether the recordings of a roll decode, every frame. at: what came since answers it"""

    roll = models.OneToOneField(Roll, on_delete=models.CASCADE, primary_key=True, related_name="decoding_asked")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()


class FileDecoded(models.Model):
    """What came of decoding a recording, last time. The columns are those of `core.pictures.Decoded`.

    breaks: the first of them, each `[at_s, track, said]`. copy: which one was read. at: when it was begun
    """

    file = models.OneToOneField(RollFile, on_delete=models.CASCADE, primary_key=True, related_name="decoded")
    copy = models.ForeignKey(Copy, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    frames = models.BigIntegerField()
    breaks = models.JSONField()
    in_all = models.IntegerField()
    reached_s = models.FloatField()
    note = models.CharField(max_length=200, blank=True)
