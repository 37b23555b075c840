from django.conf import settings
from django.db import models

from ruggedraft.core.transfer import RunEnd, RunState
from ruggedraft.intake.models import Card, Reader
from ruggedraft.kit.models import Station
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.stores.models import Store


class Offload(models.Model):
    """A run that reads a card and writes its copies. What it achieved stands in its findings and the copies' checks.

    started_at: when a worker first took it. finished_at: when it ended, well or badly.
    take: what is wanted of the card, as `core.taking.Take` data
    naming: folder, names, start, mend and values as the plan had them when it was started
    notes: about the whole roll, for its sidecars
    others: names of the further checksums that are taken. twice: the card is read a second time
    rank: its place in the station's queue; the lowest runs first. held_back: paused until somebody lets it go on
    estimated_s: how long it was expected to take, in seconds
    end: how it ended, empty while it has not
    """

    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="offloads")
    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="offloads")
    station = models.ForeignKey(Station, on_delete=models.PROTECT, related_name="offloads")
    reader = models.ForeignKey(Reader, null=True, on_delete=models.SET_NULL, related_name="+")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    take = models.JSONField(default=dict)
    naming = models.JSONField(default=dict)
    notes = models.TextField(blank=True)
    others = models.JSONField(default=list)
    twice = models.BooleanField(default=False)
    rank = models.BigIntegerField(default=0)
    held_back = models.BooleanField(default=False)
    estimated_s = models.FloatField(null=True)
    algorithm = models.CharField(max_length=10)
    asked_at = models.DateTimeField()
    started_at = models.DateTimeField(null=True)
    cancel_asked_at = models.DateTimeField(null=True)
    finished_at = models.DateTimeField(null=True)
    read_files = models.PositiveIntegerField(default=0)
    read_bytes = models.BigIntegerField(default=0)
    end = models.CharField(max_length=12, blank=True, choices=[(end.value, end.value) for end in RunEnd])

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["card"], condition=models.Q(finished_at=None), name="one_open_offload_a_card"
            )
        ]

    @property
    def state(self) -> RunState:
        if self.finished_at:
            return RunState(self.end)
        if self.cancel_asked_at:
            return RunState.STOPPING
        if self.held_back:
            return RunState.PAUSED
        return RunState.RUNNING if self.started_at else RunState.WAITING


class Feed(models.Model):
    """Bringing a copy what its store was too slow for, from another copy that is verified. The card is not needed.

    outcome: how it ended, in a sentence
    """

    offload = models.ForeignKey(Offload, on_delete=models.PROTECT, related_name="feeds")
    copy = models.ForeignKey(Copy, on_delete=models.PROTECT, related_name="feeds")
    station = models.ForeignKey(Station, on_delete=models.PROTECT, related_name="+")
    asked_at = models.DateTimeField()
    started_at = models.DateTimeField(null=True)
    finished_at = models.DateTimeField(null=True)
    outcome = models.TextField(blank=True)


class OffloadFinding(models.Model):
    """Something that is not safe after a run. `store` is None where the card itself was the trouble."""

    offload = models.ForeignKey(Offload, on_delete=models.PROTECT, related_name="findings")
    store = models.ForeignKey(Store, null=True, on_delete=models.PROTECT, related_name="+")
    path = models.TextField(blank=True)
    reason = models.TextField()
