from django.conf import settings
from django.db import models

from ruggedraft.core.runs import RunKind
from ruggedraft.intake.models import Card, Reader
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.runs.models import Run, RunQueue
from ruggedraft.stores.models import Store


class Offload(Run):
    """A run that reads a card and writes its copies. What it achieved stands in its findings and the copies' readings.

    take: what is wanted of the card, as `core.taking.Take` data
    naming: folder, names, start, mend and values as the plan had them when it was started
    notes: about the whole roll, for its sidecars
    others: names of the further checksums that are taken. twice: the card is read a second time
    targets: ids of the stores that it writes to, as was shown when it was started; empty for an older run, which writes
        to every store that its roll has a copy on
    other_stores: names of the stores that were asked for, where they are not the plan's; None where they are
    card_errors: files of which the card gave an error, though it may have given them the next time
    estimated_s: how long it was expected to take, in seconds
    """

    KIND = RunKind.OFFLOAD

    run = models.OneToOneField(Run, on_delete=models.CASCADE, parent_link=True, primary_key=True, related_name="+")
    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="offloads")
    reader = models.ForeignKey(Reader, null=True, on_delete=models.SET_NULL, related_name="+")
    take = models.JSONField(default=dict)
    naming = models.JSONField(default=dict)
    notes = models.TextField(blank=True)
    others = models.JSONField(default=list)
    twice = models.BooleanField(default=False)
    targets = models.JSONField(default=list)
    other_stores = models.JSONField(null=True)
    estimated_s = models.FloatField(null=True)
    algorithm = models.CharField(max_length=10)
    read_files = models.PositiveIntegerField(default=0)
    read_bytes = models.BigIntegerField(default=0)
    card_errors = models.PositiveIntegerField(default=0)


class RollMemory(models.Model):
    """What runs that were cut short have proven of a roll may be believed by the next, by notes that lie on its stores.

    key: what those notes are proven with; whoever may write to a store does not know it
    """

    roll = models.OneToOneField(Roll, on_delete=models.CASCADE, related_name="memory")
    key = models.BinaryField()
    at = models.DateTimeField()


class PullSeen(models.Model):
    """Somebody said that they know: a card was taken out of its reader in the middle of its offload."""

    offload = models.OneToOneField(Offload, on_delete=models.PROTECT, related_name="pull_seen")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()


class AfterRun(models.Model):
    """The program that a plan names, started after an offload that ended well. It is no part of the run.

    code: what it ended with; None where it did not by itself. output: the last of what it said, both ways
    trouble: why it was not started, or was stopped, as a clause
    """

    offload = models.OneToOneField(Offload, on_delete=models.CASCADE, related_name="after")
    program = models.CharField(max_length=80)
    started_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)
    code = models.IntegerField(null=True)
    output = models.TextField(blank=True)
    trouble = models.CharField(max_length=300, blank=True)


class Feed(Run):
    """Bringing a copy what it lacks from another copy that is verified. The card is not needed.

    came_from: the store of the copy that it was brought from, once it began
    """

    KIND, QUEUE = RunKind.FEED, RunQueue.FEEDS

    run = models.OneToOneField(Run, on_delete=models.CASCADE, parent_link=True, primary_key=True, related_name="+")
    offload = models.ForeignKey(Offload, on_delete=models.PROTECT, related_name="feeds")
    copy = models.ForeignKey(Copy, on_delete=models.PROTECT, related_name="feeds")
    came_from = models.ForeignKey(Store, null=True, on_delete=models.PROTECT, related_name="+")

    @staticmethod
    def subject_of(copy_id: int) -> str:
        """See `Run.subject`."""
        return f"feed of copy {copy_id}"


class Join(Run):
    """Joining the chapters of a recording on every store that holds them. files: ids of the roll's files, in order."""

    KIND = RunKind.JOIN

    run = models.OneToOneField(Run, on_delete=models.CASCADE, parent_link=True, primary_key=True, related_name="+")
    name = models.CharField(max_length=200)
    files = models.JSONField()


class OffloadFinding(models.Model):
    """Something that is not safe after a run. `store` is None where the card itself was the trouble."""

    offload = models.ForeignKey(Offload, on_delete=models.PROTECT, related_name="findings")
    store = models.ForeignKey(Store, null=True, on_delete=models.PROTECT, related_name="+")
    path = models.TextField(blank=True)
    reason = models.TextField()
