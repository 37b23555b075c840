from uuid import uuid4

from django.conf import settings
from django.contrib.postgres.fields import ArrayField
from django.db import models

from ruggedraft.core.sets import MEDIA, Medium, custom_medium
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll


class MediaSet(models.Model):
    """Rolls that are divided among media of one kind. number: in its production. capacity: bytes of one medium"""

    production = models.ForeignKey(Production, on_delete=models.PROTECT, related_name="media_sets")
    number = models.PositiveIntegerField()
    medium = models.CharField(max_length=60)
    capacity = models.BigIntegerField()
    tape = models.BooleanField(default=False)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["production", "number"], name="media_set_number_once")]

    @property
    def name(self) -> str:
        return f"SET{self.number:02}"

    @property
    def of(self) -> Medium:
        known = next((one for one in MEDIA if one.name == self.medium), None)
        return known or custom_medium(self.capacity, tape=self.tape)


class MediaVolume(models.Model):
    """One medium of a set: what goes onto it. closed_at: since when it gets nothing more, as its folder was asked for

    shelf: where it is kept, in words
    """

    of = models.ForeignKey(MediaSet, on_delete=models.CASCADE, related_name="volumes")
    number = models.PositiveIntegerField()
    uuid = models.UUIDField(default=uuid4, unique=True)
    closed_at = models.DateTimeField(null=True)
    shelf = models.CharField(max_length=80, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["of", "number"], name="media_volume_number_once")]

    @property
    def name(self) -> str:
        return f"{self.of.name}-{self.number:02}"


class VolumeRoll(models.Model):
    """What of a roll goes onto a medium. files: ids. bytes: they have. takes: bytes of the medium"""

    volume = models.ForeignKey(MediaVolume, on_delete=models.CASCADE, related_name="rolls")
    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="+")
    files = ArrayField(models.BigIntegerField())
    bytes = models.BigIntegerField()
    takes = models.BigIntegerField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["volume", "roll"], name="roll_once_on_a_volume")]
