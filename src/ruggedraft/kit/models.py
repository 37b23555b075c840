"""What the crew works with: stations, and the devices that copies are on, with their places."""

from django.conf import settings
from django.db import models


class Station(models.Model):
    """A machine with readers and drives. Its name is also the name of its work queue.

    role: what it is called as it speaks to the database; empty for one on the server's own machine
    joined_from: the address it joined from. turned_away_at: since when it is let in no more
    plugged_in: what it could keep copies on, as `stores.noting` writes it; of one on another machine alone
    clock_off_s: seconds by which its machine's clock was ahead of the ledger's when it last began
    """

    name = models.CharField(max_length=40, unique=True)
    seen_at = models.DateTimeField(null=True)
    role = models.CharField(max_length=63, blank=True)
    joined_at = models.DateTimeField(null=True)
    joined_from = models.CharField(max_length=60, blank=True)
    turned_away_at = models.DateTimeField(null=True)
    clock_off_s = models.FloatField(default=0)
    plugged_in = models.JSONField(default=list)


class StationTicket(models.Model):
    """What one more station joins with, once and for a while. secret: SHA-256 of what the ticket carries"""

    secret = models.CharField(max_length=64, unique=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    until = models.DateTimeField()
    used_at = models.DateTimeField(null=True)


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


class Custody(models.Model):
    """A card or a device was given to somebody, or came back. The last of a thing holds; of a card, until it is next
    put into a reader.

    holder, outside: who has it: somebody of the crew, or whoever has no account, by name; neither: nobody carries it
    after: of a card, its last stay in a reader when that was said; a later one ends it, whatever the stations' clocks
    place: of a device, where it was from then on. note: a few words with it
    """

    card = models.ForeignKey("intake.Card", null=True, on_delete=models.PROTECT, related_name="custody")
    device = models.ForeignKey(Device, null=True, on_delete=models.PROTECT, related_name="custody")
    holder = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    outside = models.CharField(max_length=80, blank=True)
    place = models.ForeignKey(Location, null=True, on_delete=models.PROTECT, related_name="+")
    note = models.CharField(max_length=200, blank=True)
    after = models.BigIntegerField(default=0)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=models.Q(card=None) ^ models.Q(device=None), name="custody_of_a_card_or_a_device"
            ),
            models.CheckConstraint(
                condition=models.Q(holder=None) | models.Q(outside=""), name="somebody_of_the_crew_or_somebody_else"
            ),
        ]


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
