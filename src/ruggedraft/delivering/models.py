from django.conf import settings
from django.contrib.postgres.fields import ArrayField
from django.db import models

from ruggedraft.accounts.models import Edition
from ruggedraft.core.delivering import DeliveryWay
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll, RollFile


class Consignment(models.Model):
    """Rolls, or chosen clips of them, that go to somebody together. to: who, in words. note: what they are told with it

    withdrawn_at: when somebody said that it goes nowhere. What was received until then stays received
    """

    production = models.ForeignKey(Production, on_delete=models.PROTECT, related_name="consignments")
    to = models.CharField(max_length=120)
    way = models.CharField(max_length=10, choices=[(way.value, way.value) for way in DeliveryWay])
    note = models.CharField(max_length=500, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True)
    withdrawn_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")


class ConsignedRoll(models.Model):
    """A roll of a consignment. files: ids of those that go, where not all do. edition: its account, as it was then

    until: id of the last take of it then. What came onto the roll later is no part of this
    """

    consignment = models.ForeignKey(Consignment, on_delete=models.CASCADE, related_name="rolls")
    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="consigned")
    files = ArrayField(models.BigIntegerField(), null=True)
    edition = models.ForeignKey(Edition, on_delete=models.PROTECT, related_name="+")
    until = models.BigIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["consignment", "roll"], name="a_roll_is_consigned_once")]


class ClientLink(models.Model):
    """The link by which whoever has it sees one consignment, and nothing else.

    secret: SHA-256 of what the link carries. hashed: a password as passwords are kept; empty where none is asked for
    revoked_at: since when it opens nothing
    """

    consignment = models.OneToOneField(Consignment, on_delete=models.CASCADE, related_name="link")
    secret = models.CharField(max_length=64, unique=True)
    hashed = models.CharField(max_length=128, blank=True)
    until = models.DateTimeField()
    revoked_at = models.DateTimeField(null=True)


class Emblem(models.Model):
    """The picture by which a production shows itself on its clients' pages: a JPEG, as `core.pictures` makes it."""

    production = models.OneToOneField(Production, on_delete=models.CASCADE, related_name="emblem")
    picture = models.BinaryField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()


class PasswordTry(models.Model):
    """Somebody gave the password of a link wrongly."""

    link = models.ForeignKey(ClientLink, on_delete=models.CASCADE, related_name="tries")
    at = models.DateTimeField()


class Fetched(models.Model):
    """Bytes of a file that went out by a link: from `first` on, so many. Whether they arrived is not known."""

    consignment = models.ForeignKey(Consignment, on_delete=models.PROTECT, related_name="fetched")
    file = models.ForeignKey(RollFile, on_delete=models.PROTECT, related_name="+")
    first = models.BigIntegerField()
    size = models.BigIntegerField()
    at = models.DateTimeField()
    origin = models.CharField(max_length=80)


class Receipt(models.Model):
    """Somebody said that it arrived. Append-only. person: of the crew; None: said on the client's page, by this name

    checked: they said that they compared the checksums
    """

    consignment = models.ForeignKey(Consignment, on_delete=models.PROTECT, related_name="receipts")
    name = models.CharField(max_length=80)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    checked = models.BooleanField()
    at = models.DateTimeField()
