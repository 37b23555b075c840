from django.conf import settings
from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.db.models.functions import MD5

from ruggedraft.core.evidence import Evidence, Result
from ruggedraft.footage.models import Media
from ruggedraft.intake.models import Card, CardListing
from ruggedraft.productions.models import Camera, Production
from ruggedraft.stores.models import Store


class Roll(models.Model):
    """What one card holds between two formats. The card is reused, the roll is for ever.

    algorithm: what its files are compared by, whatever its plan says later
    version: grows with every fact about it that is noted: files, waivers, copies, readings. content: the same, without
        copies and readings. The database itself counts (migration `facts_are_counted`), whoever writes
    fs_serial: the file-system serial of the card then; a format gives a new one. Empty where the reader tells none
    double_of: the roll of which it was seen to be another rendering when it was taken, RAW here and JPEG there
    """

    production = models.ForeignKey(Production, on_delete=models.PROTECT, related_name="rolls")
    camera = models.ForeignKey(Camera, on_delete=models.PROTECT, related_name="rolls")
    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="rolls")
    number = models.PositiveIntegerField()
    tag = models.CharField(max_length=20)
    shoot_day = models.DateField()
    opened_at = models.DateTimeField()
    algorithm = models.CharField(max_length=10)
    fs_serial = models.CharField(max_length=80, blank=True)
    double_of = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="doubles")
    version = models.BigIntegerField(default=0, editable=False)
    content = models.BigIntegerField(default=0, editable=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["camera", "number"], name="roll_number_once"),
            models.UniqueConstraint(fields=["production", "tag"], name="roll_tag_once"),
        ]


class Take(models.Model):
    """The moment at which files of a card became content of a roll: what was listed, minus what was left on purpose.

    A roll that goes on has several. Its content is all their files, whether they were read yet or not.
    listing: None where the ledger was made again from records beside copies, which keep none
    """

    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="takes")
    listing = models.ForeignKey(CardListing, null=True, on_delete=models.PROTECT, related_name="+")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()


class RollFile(models.Model):
    """A file of a roll, expected from the moment it was taken. Paths are in the ledger's form.

    checksum, fingerprint: empty until it was read off the card
    kept_as: its path in the copies' folders, where that is not the card's own
    others: further checksums of the same reading, by algorithm
    is_clip: it is the main file of a clip, as its card was understood when it was taken
    """

    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="files", db_index=False)
    take = models.ForeignKey(Take, on_delete=models.PROTECT, related_name="files", db_index=False)
    path = models.TextField()
    size = models.BigIntegerField()
    modified_ns = models.BigIntegerField()
    checksum = models.CharField(max_length=128, blank=True)
    fingerprint = models.CharField(max_length=32, blank=True)
    kept_as = models.TextField(blank=True)
    others = models.JSONField(default=dict)
    is_clip = models.BooleanField(default=False, db_default=False)

    class Meta:
        constraints = [
            # by digest: an index row holds less than the longest path there can be. A roll's files are found by it too
            models.UniqueConstraint("roll", MD5("path"), name="roll_file_once")
        ]
        indexes = [
            # what a card that comes back is matched by; two files seldom share both
            models.Index(fields=["modified_ns", "size"], name="roll_file_by_time"),
            models.Index(fields=["checksum"], name="roll_file_by_checksum"),
        ]


class FileName(models.Model):
    """What a file is found by: its names on the card and in copies, in small letters; see `rolls.names`."""

    file = models.OneToOneField(RollFile, on_delete=models.CASCADE, primary_key=True, related_name="named")
    roll = models.ForeignKey(Roll, on_delete=models.CASCADE, related_name="+")
    names = models.TextField()


class RollNamed(models.Model):
    """All files of a roll can be found by their names, as they were when so much of its content had changed."""

    roll = models.OneToOneField(Roll, on_delete=models.CASCADE, primary_key=True, related_name="named")
    content = models.BigIntegerField()


class FileMedia(models.Model):
    """What is known of the recording in a roll's file. It stays when the card is formatted."""

    file = models.OneToOneField(RollFile, on_delete=models.CASCADE, primary_key=True, related_name="known_media")
    media = models.ForeignKey(Media, on_delete=models.PROTECT, related_name="+")


class LeftBehind(models.Model):
    """A file that stayed on the card on purpose when the roll was taken. Whether it may be lost is not said by that."""

    take = models.ForeignKey(Take, on_delete=models.PROTECT, related_name="left_behind")
    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="left_behind")
    path = models.TextField()
    size = models.BigIntegerField()
    modified_ns = models.BigIntegerField()
    at = models.DateTimeField()
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint("roll", MD5("path"), "size", "modified_ns", name="left_behind_once")]


class Waiver(models.Model):
    """One file of a card, exactly as listed, that need not be covered.

    roll: of whose content it is, if it is in any. fingerprint: empty for what is no file
    listing: the one the person saw
    """

    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="waivers")
    roll = models.ForeignKey(Roll, null=True, on_delete=models.PROTECT, related_name="waivers")
    listing = models.ForeignKey(CardListing, on_delete=models.PROTECT, related_name="+")
    path = models.TextField()
    size = models.BigIntegerField()
    modified_ns = models.BigIntegerField()
    fingerprint = models.CharField(max_length=32, blank=True)
    reason = models.CharField(max_length=300)
    at = models.DateTimeField()
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")


class ClipOpening(models.Model):
    """Somebody opened a clip and looked at it: the first time that each person did. file: the clip's main file"""

    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="openings")
    file = models.ForeignKey(RollFile, on_delete=models.PROTECT, related_name="openings")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["file", "person"], name="a_first_opening_each")]


class Delivery(models.Model):
    """A roll was given to whom it was made for. to: who, in words. withdrawn_at: when somebody said that it was not"""

    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="deliveries")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    to = models.CharField(max_length=120)
    withdrawn_at = models.DateTimeField(null=True)
    withdrawn_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["roll"], condition=models.Q(withdrawn_at=None), name="delivered_once")
        ]


class CopiesThere(models.Manager["Copy"]):
    """But for those that left their store: of them nobody asks any more."""

    def get_queryset(self) -> models.QuerySet["Copy"]:
        return super().get_queryset().filter(left_at=None)


class Copy(models.Model):
    """A roll on a store, wanted from the moment the row exists. How good it is follows from its readings and looks.

    left_at: when it left a landing area, as the stores of its plan hold the roll, or the last of it was taken off to
        make room; its files there were noted as gone. emptied_at: when they were taken away there
    thinned_at: since when room has been made of it there: what it lacks is brought by nobody but a person who asks
    """

    objects = CopiesThere()
    every = models.Manager["Copy"]()

    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="copies")
    store = models.ForeignKey(Store, on_delete=models.PROTECT, related_name="copies")
    folder = models.CharField(max_length=1000)
    left_at = models.DateTimeField(null=True)
    emptied_at = models.DateTimeField(null=True)
    thinned_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["roll", "store"], name="copy_once")]


class Origin(models.TextChoices):
    OFFLOAD = "offload"
    CHECK = "check"
    FEED = "feed"
    LOOK = "look"
    ROOM = "room"
    """nothing was read: files were taken off to make room"""


class Reading(models.Model):
    """A reading of a copy, or a look at it that found something wrong. Append-only evidence.

    began_at: when it began on the medium. noted_at: when it was written down
    after: the id of the last reading that was noted before this one began: order is by that, not by clocks
    level: the weakest evidence among the files that agreed
    all_but: it speaks of every file of the roll's takes up to `until`: they agree, but for what `ReadingResult` says
    """

    copy = models.ForeignKey(Copy, on_delete=models.PROTECT, related_name="readings")
    origin = models.CharField(max_length=10, choices=Origin)
    began_at = models.DateTimeField()
    noted_at = models.DateTimeField()
    after = models.BigIntegerField()
    level = models.PositiveSmallIntegerField(choices=[(e.value, e.words) for e in Evidence])
    all_but = models.BooleanField()
    until = models.BigIntegerField()
    agreed_files = models.PositiveIntegerField()
    agreed_bytes = models.BigIntegerField()

    class Meta:
        ordering = ["id"]

    @property
    def came_of(self) -> Origin:
        """What it was that read."""
        return Origin(self.origin)


class ReadingResult(models.Model):
    """What a reading says of one file, where that needs saying: see `Reading.all_but`.

    modified_ns: the time a look found on the store, where that is what is wrong
    """

    reading = models.ForeignKey(Reading, on_delete=models.PROTECT, related_name="results")
    file = models.ForeignKey(RollFile, on_delete=models.PROTECT, related_name="results")
    result = models.CharField(max_length=10, choices=[(r.value, r.value) for r in Result])
    reason = models.TextField(blank=True)
    modified_ns = models.BigIntegerField(null=True)


class CopyLook(models.Model):
    """When a copy's names, sizes and times were last compared with the roll's. What was wrong is a `Reading`."""

    copy = models.OneToOneField(Copy, on_delete=models.CASCADE, related_name="look")
    began_at = models.DateTimeField()


class RollSummary(models.Model):
    """What a roll's facts come to, as they were at `version`: remembered, so that lists need not read every file.

    Written by whoever worked it out (`rolls.summaries`), and not looked at once the roll has newer facts. Nothing is
    signed by it.
    files, bytes: what a whole copy must hold. unread: of those, never read off the card
    read_files, read_bytes: what was read off the card. waived, left: files
    clips: how many there are. opened: how many of them somebody opened
    """

    roll = models.OneToOneField(Roll, primary_key=True, on_delete=models.CASCADE, related_name="summary")
    version = models.BigIntegerField()
    files = models.PositiveIntegerField()
    bytes = models.BigIntegerField()
    unread = models.PositiveIntegerField()
    read_files = models.PositiveIntegerField()
    read_bytes = models.BigIntegerField()
    waived = models.PositiveIntegerField()
    left = models.PositiveIntegerField()
    clips = models.PositiveIntegerField(default=0)
    opened = models.PositiveIntegerField(default=0)


class CopySummary(models.Model):
    """What a copy's readings come to, as its roll's facts were at `version`; see `RollSummary`.

    found_after: since when its store was found again, as that was then. readings: how many there are
    proven_us: by `core.evidence.Evidence`, in microseconds since 1970-01-01 UTC, which are read faster than timestamps
    The rest is as in `core.redundancy.CopyFacts`
    """

    copy = models.OneToOneField(Copy, primary_key=True, on_delete=models.CASCADE, related_name="summary")
    version = models.BigIntegerField()
    found_after = models.BigIntegerField()
    readings = models.PositiveIntegerField()
    files = models.PositiveIntegerField()
    bytes = models.BigIntegerField()
    missing_files = models.PositiveIntegerField()
    missing_bytes = models.BigIntegerField()
    broken_files = models.PositiveIntegerField()
    proven_us = ArrayField(models.BigIntegerField(null=True), size=len(Evidence))


class BesideCopy(models.Model):
    """A list or record that we left beside a copy, so that we know it for ours. sha256: of its content"""

    copy = models.ForeignKey(Copy, on_delete=models.CASCADE, related_name="beside")
    path = models.TextField()
    sha256 = models.CharField(max_length=64)

    class Meta:
        constraints = [models.UniqueConstraint("copy", MD5("path"), name="beside_once")]
