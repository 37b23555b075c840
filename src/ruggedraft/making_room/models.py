from typing import ClassVar

from django.db import models

from ruggedraft.core.runs import RunKind
from ruggedraft.rolls.models import Copy, RollFile
from ruggedraft.runs.models import Run, RunQueue


class MakingRoom(Run):
    """Taking files of a roll off a store that other copies hold, each read back there since it was asked for.

    files: ids of what the person was shown. with_kept: also what somebody keeps
    delivered_before: only where the roll was delivered before that
    after: the last evidence that was noted when it was asked for: what is read back is read after it
    """

    KIND: ClassVar[RunKind] = RunKind.MAKE_ROOM
    QUEUE: ClassVar[RunQueue] = RunQueue.FEEDS

    run = models.OneToOneField(Run, on_delete=models.CASCADE, parent_link=True, primary_key=True, related_name="+")
    copy = models.ForeignKey(Copy, on_delete=models.PROTECT, related_name="+")
    files = models.JSONField()
    with_kept = models.BooleanField(default=False)
    delivered_before = models.DateTimeField()
    after = models.BigIntegerField()

    @staticmethod
    def subject_of(copy_id: int) -> str:
        """See `Run.subject`."""
        return f"making room of copy {copy_id}"


class TakenOff(models.Model):
    """A file that is to leave a copy: written down before anything is removed, when nothing is claimed of it any more.

    removed_at: when it was gone from the store. trouble: why it stays there
    """

    run = models.ForeignKey(MakingRoom, on_delete=models.CASCADE, related_name="taken_off", db_index=False)
    file = models.ForeignKey(RollFile, on_delete=models.PROTECT, related_name="+")
    removed_at = models.DateTimeField(null=True)
    trouble = models.TextField(blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["run", "file"], name="taken_off_once")]
