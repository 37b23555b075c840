"""What the crew works with: stations, and the devices that copies are on, with their places."""

from django.conf import settings
from django.db import models


class Station(models.Model):
    """A machine with readers and drives. Its name is also the name of its work queue."""

    name = models.CharField(max_length=40, unique=True)
    seen_at = models.DateTimeField(null=True)


class Location(models.Model):
    """Where devices physically are."""

    name = models.CharField(max_length=80, unique=True)
    offsite = models.BooleanField(default=False)


class Medium(models.TextChoices):
    SSD = "ssd", "SSD"
    DISK = "disk", "disk"
    ARRAY = "array", "array"
    NETWORK = "network", "network"
    CLOUD = "cloud", "cloud"
    TAPE = "tape", "tape"


class Device(models.Model):
    """The thing that people name, place and may lose: a drive, an array, a server."""

    name = models.CharField(max_length=80, unique=True)
    medium = models.CharField(max_length=10, choices=Medium)
    location = models.ForeignKey(Location, on_delete=models.PROTECT, related_name="devices")


class DeviceLoss(models.Model):
    """Somebody reported a device lost. Nothing on it counts while the report stands.

    found_after: the last evidence noted when it was found; only what is read later counts
    """

    device = models.ForeignKey(Device, on_delete=models.PROTECT, related_name="losses")
    reported_at = models.DateTimeField()
    reported_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    reason = models.CharField(max_length=300)
    found_at = models.DateTimeField(null=True)
    found_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    found_after = models.BigIntegerField(default=0)
