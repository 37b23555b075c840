from typing import ClassVar

from django.db import models

from ruggedraft.adopting.models import LongReading
from ruggedraft.core.comparing import Kind
from ruggedraft.core.runs import RunKind
from ruggedraft.core.working import Codec, Recipe
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import RollFile
from ruggedraft.runs.models import Run, RunQueue


class FolderLook(LongReading):
    """Somebody had a folder in which they work compared with the rolls that lie in it, or that a project names.

    folder: its path on the station's machine, in the ledger's form
    list_name: of the project's list, empty without one. listed: paths as it names them
    expected: how many files belong there. same: of them, those that are there as they were, or seem so by name and size
    cached: files that may have come from the machine's memory: of those nothing is known
    stands_on: what lies under the folder, as the machine tells it
    """

    production = models.ForeignKey(Production, on_delete=models.PROTECT, related_name="folder_looks")
    folder = models.TextField()
    list_name = models.CharField(max_length=200, blank=True)
    listed = models.JSONField(default=list)
    expected = models.PositiveIntegerField(default=0)
    same = models.PositiveIntegerField(default=0)
    cached = models.PositiveIntegerField(default=0)
    stands_on = models.JSONField(default=list)


class RowKind(models.TextChoices):
    """How a working file stands, where it is not as it was; as `core.comparing.Kind`, but for the last two."""

    MISSING = Kind.MISSING.value
    DIFFERENT = Kind.DIFFERENT.value
    UNREADABLE = Kind.UNREADABLE.value
    MOVED = Kind.MOVED.value
    RENAMED = "renamed"
    """it stands where no roll's file belongs, and is one by its content"""
    UNKNOWN = "unknown"
    """a project names it, and no roll has such a file, or several have that hold different things"""


class FolderRow(models.Model):
    """A file that is not as it was. path: where it belongs in the folder; of a renamed one, where it stands; of an
    unknown one, as the project says

    file: None of an unknown one
    elsewhere: where in the folder it stands now. reason: why nothing more is known. size: bytes it has to have
    """

    look = models.ForeignKey(FolderLook, on_delete=models.CASCADE, related_name="rows", db_index=False)
    n = models.PositiveIntegerField()
    kind = models.CharField(max_length=16, choices=RowKind)
    path = models.TextField()
    file = models.ForeignKey(RollFile, null=True, on_delete=models.PROTECT, related_name="+")
    size = models.BigIntegerField(default=0)
    elsewhere = models.TextField(blank=True)
    reason = models.TextField(blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["look", "n"], name="folder_row_once")]


class Return(Run):
    """Bringing files of a roll to a folder, from whatever copies hold them. It notes no evidence of any copy.

    stands_on: as in `FolderLook`, where the folder was looked at before; else empty
    files: for each its id, and where in the folder it goes. aside: what stands there otherwise is moved aside first
    moved: where what stood in a file's place was moved to, by where the file goes, both in the ledger's form
    back: ids of those that were there in the end, read and as they were taken
    system_disk_reason: why it may be on the system's disk; empty: it may not
    bag: its files go under `data/`, and once all are there it is made a bag (RFC 8493)
    beside: small files that are left there too once all are there: what each says, by its path in the folder
    """

    KIND: ClassVar[RunKind] = RunKind.RETURN
    QUEUE: ClassVar[RunQueue] = RunQueue.FEEDS

    run = models.OneToOneField(Run, on_delete=models.CASCADE, parent_link=True, primary_key=True, related_name="+")
    folder = models.TextField()
    files = models.JSONField()
    back = models.JSONField(default=list)
    aside = models.BooleanField(default=False)
    moved = models.JSONField(default=dict)
    stands_on = models.JSONField(default=list)
    system_disk_reason = models.CharField(max_length=300, blank=True)
    bag = models.BooleanField(default=False)
    beside = models.JSONField(default=dict)


class MakingOfCopies(Run):
    """Making working copies of a roll's recordings in a folder. Nothing of it is counted as a copy of anything.

    folder: as in `FolderLook`. codec, height, burn_in: as in `core.working.Recipe`
    files: ids of the recordings. made: for each that was gone through its id, its path in the folder, and why there is
        no working copy of it, empty where there is one that matches
    """

    KIND: ClassVar[RunKind] = RunKind.WORKING
    QUEUE: ClassVar[RunQueue] = RunQueue.MAKING

    run = models.OneToOneField(Run, on_delete=models.CASCADE, parent_link=True, primary_key=True, related_name="+")
    folder = models.TextField()
    codec = models.CharField(max_length=16, choices=[(one.value, one.value) for one in Codec])
    height = models.PositiveIntegerField(default=0)
    burn_in = models.BooleanField(default=False)
    files = models.JSONField()
    made = models.JSONField(default=list)

    @property
    def recipe(self) -> Recipe:
        return Recipe(Codec(self.codec), self.height, self.burn_in)


class TakeAway(Run):
    """Writing what is seen of a roll to a folder, with a page that shows it on any computer, without us.

    folder: as in `FolderLook`. name: of the folder in it that is made for it
    words: marks and notes go too
    """

    KIND: ClassVar[RunKind] = RunKind.TAKE_AWAY
    QUEUE: ClassVar[RunQueue] = RunQueue.MAKING

    run = models.OneToOneField(Run, on_delete=models.CASCADE, parent_link=True, primary_key=True, related_name="+")
    folder = models.TextField()
    name = models.CharField(max_length=60)
    words = models.BooleanField(default=True)
