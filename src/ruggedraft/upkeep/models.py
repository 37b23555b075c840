from datetime import datetime

from django.conf import settings
from django.db import models

from ruggedraft.core.upkeep import Hours
from ruggedraft.kit.models import Location
from ruggedraft.productions.models import Production
from ruggedraft.stores.models import Store


class Paced(models.Model):
    """begins, ends: hours of the day at which work may begin, in minutes after midnight by the production's clock; all
    day where they are alike

    rate: how fast it may go, in bytes a second; None: as fast as it goes
    person: who asked for it, and in whose name it is done
    """

    begins = models.PositiveSmallIntegerField(default=0)
    ends = models.PositiveSmallIntegerField(default=0)
    rate = models.BigIntegerField(null=True)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        abstract = True

    @property
    def hours(self) -> Hours:
        return Hours(self.begins, self.ends)

    def may_begin(self, production: Production, moment: datetime) -> bool:
        """Whether it is within its hours, by the clocks of a production."""
        return self.hours.is_open(production.local(moment).time())


class StandingOrder(Paced):
    """Whatever of a production is whole and read back goes to a store, by itself, until somebody withdraws the order.

    from_store, from_place: only what is so on that store, or at that place; both None: anywhere
    """

    production = models.ForeignKey(Production, on_delete=models.PROTECT, related_name="standing_orders")
    from_store = models.ForeignKey(Store, null=True, on_delete=models.PROTECT, related_name="+")
    from_place = models.ForeignKey(Location, null=True, on_delete=models.PROTECT, related_name="+")
    to_store = models.ForeignKey(Store, on_delete=models.PROTECT, related_name="standing_orders")
    withdrawn_at = models.DateTimeField(null=True)
    withdrawn_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["id"]

    @property
    def source(self) -> str:
        """Where what it brings is to be, as people call it; empty for anywhere."""
        one = self.from_store or self.from_place
        return one.name if one else ""


class Care(Paced):
    """What is done by itself for the copies on a store.

    check_days: a copy that was not read for so many days is read again; None: none is
    mends: what is found damaged is brought anew from a verified copy
    """

    store = models.OneToOneField(Store, on_delete=models.PROTECT, related_name="care")
    check_days = models.PositiveSmallIntegerField(null=True)
    mends = models.BooleanField(default=False)
