from django.conf import settings
from django.db import models

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import AsideKind
from ruggedraft.footage.models import Media
from ruggedraft.kit.models import Station
from ruggedraft.productions.models import Camera, Plan


class Reader(models.Model):
    """A slot. `path` is where its card appears. gone_at: since when the station does not see it any more.

    port: what it hangs on; readers of one model are told apart by it. name: for showing only
    called: the name that somebody gave it; empty: it is called as the system calls it

    unattended_by: who answers for cards that are offloaded here by themselves; None: somebody presses the button.
    unattended_plan: only cards of this plan go by themselves; None: of any
    """

    station = models.ForeignKey(Station, on_delete=models.CASCADE, related_name="readers")
    port = models.CharField(max_length=200)
    name = models.CharField(max_length=80)
    called = models.CharField(max_length=80, blank=True)
    path = models.CharField(max_length=1000)
    gone_at = models.DateTimeField(null=True)
    unattended_plan = models.ForeignKey(Plan, null=True, on_delete=models.SET_NULL, related_name="+")
    unattended_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["station", "port"], name="reader_port_once")]
        ordering = ["name"]


class SaidReader(models.Model):
    """Somebody said that what hangs on a port is a reader: magazines and fast cards pass for disks that stay.

    station: on whose machine; None: on the server's own
    withdrawn_at: when somebody said that it is none
    """

    station = models.ForeignKey(Station, null=True, on_delete=models.CASCADE, related_name="+")
    port = models.CharField(max_length=200)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["station", "port"],
                condition=models.Q(withdrawn_at=None),
                nulls_distinct=False,
                name="reader_is_said_once_a_station",
            )
        ]


class FolderReader(models.Model):
    """A folder that somebody said is a reader, for one card: a phone's storage, or a camera mounted by its cable.

    finals: it holds no card, but finals, which are taken in like one
    station: on whose machine; None: on the server's own. ended_at: when the folder was no reader any more
    """

    station = models.ForeignKey(Station, null=True, on_delete=models.CASCADE, related_name="+")
    path = models.CharField(max_length=1000)
    finals = models.BooleanField(default=False)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["station", "path"],
                condition=models.Q(ended_at=None),
                nulls_distinct=False,
                name="folder_is_a_reader_once",
            )
        ]


class Errand(models.Model):
    """Something that a person has a station on another machine do there, as nobody else can.

    kind: a name of `errands.KINDS`. said: its words. done_at: when it was done or refused
    """

    station = models.ForeignKey(Station, on_delete=models.CASCADE, related_name="+")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    kind = models.CharField(max_length=20)
    said = models.JSONField()
    at = models.DateTimeField()
    done_at = models.DateTimeField(null=True)
    refused = models.CharField(max_length=500, blank=True)


class Card(models.Model):
    """The physical medium, known by the label that is written on it."""

    label = models.CharField(max_length=40, unique=True)
    kind = models.CharField(max_length=40, blank=True)
    capacity = models.BigIntegerField(default=0)
    camera = models.ForeignKey(Camera, null=True, on_delete=models.PROTECT, related_name="cards")

    @property
    def production_id(self) -> int | None:
        """Of its camera's production; None while nobody has said which camera it is of."""
        return self.camera.production_id if self.camera else None

    @property
    def owner(self) -> Camera:
        """Its camera. Raises ActRefused while nobody has said which that is."""
        if self.camera is None:
            raise ActRefused(f"Card {self.label} belongs to no camera yet: say which in the set-up.")
        return self.camera


class CardAside(models.Model):
    """A card was taken out of use. ended_at, ended_why: when and why it was taken into use again"""

    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="asides")
    kind = models.CharField(max_length=12, choices=[(kind.value, kind.value) for kind in AsideKind])
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    reason = models.CharField(max_length=300)
    ended_at = models.DateTimeField(null=True)
    ended_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    ended_why = models.CharField(max_length=300, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["card"], condition=models.Q(ended_at=None), name="card_is_aside_once")
        ]


class CardTrusted(models.Model):
    """Somebody answers for a card that gave errors or slowed down. after: its last run then; of later ones it says
    nothing"""

    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="trusted")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    reason = models.CharField(max_length=300)
    after = models.BigIntegerField(default=0)


class CardSerial(models.Model):
    """A file-system serial that a card was seen with. Formatting gives a new one; cloned cards share one."""

    card = models.ForeignKey(Card, on_delete=models.CASCADE, related_name="serials")
    serial = models.CharField(max_length=80, db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["card", "serial"], name="card_serial_once")]


class Insertion(models.Model):
    """A card's stay in a reader.

    serial, volume, capacity (bytes), largest_file (bytes, None without a limit): what the reader tells, known or not
    token: changes with every insertion, also when a card is swapped for its clone between two looks
    inside: how many folders above the reader's own the card's root is, when the reader shows the inside of a card
    levels_up: how many of them the card is read from, since somebody said so
    trouble: what went wrong when it was read
    release_asked_at: somebody wants the reader to let go of it. release_trouble: why it could not, the last time
    released_at: when it did: from then on the card may be pulled
    """

    reader = models.ForeignKey(Reader, on_delete=models.CASCADE, related_name="insertions")
    card = models.ForeignKey(Card, null=True, on_delete=models.PROTECT, related_name="insertions")
    serial = models.CharField(max_length=80)
    kind = models.CharField(max_length=40, blank=True)
    volume = models.CharField(max_length=80, blank=True)
    capacity = models.BigIntegerField(default=0)
    largest_file = models.BigIntegerField(null=True)
    token = models.CharField(max_length=200, blank=True)
    inside = models.PositiveSmallIntegerField(default=0)
    levels_up = models.PositiveSmallIntegerField(default=0)
    inserted_at = models.DateTimeField()
    removed_at = models.DateTimeField(null=True)
    trouble = models.CharField(max_length=500, blank=True)
    release_asked_at = models.DateTimeField(null=True)
    release_trouble = models.CharField(max_length=300, blank=True, db_default="")
    released_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["reader"], condition=models.Q(removed_at=None), name="one_card_in_a_reader_at_a_time"
            ),
            models.UniqueConstraint(
                fields=["card"], condition=models.Q(removed_at=None), name="a_card_is_in_one_reader_at_a_time"
            ),
        ]


class NotOurs(models.Model):
    """Somebody said of a card in a reader that it is none of ours: nobody asks what is on it, for this stay.

    withdrawn_at: when somebody said that it is ours after all
    """

    insertion = models.ForeignKey(Insertion, on_delete=models.CASCADE, related_name="said_not_ours")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["insertion"], condition=models.Q(withdrawn_at=None), name="not_ours_is_said_once"
            )
        ]


class OlderFingerprints(models.Model):
    """A row says that this ledger began with another kind of fingerprints, and goes on with it: see `fingerprints`."""

    kind = models.CharField(max_length=10)


class CardListing(models.Model):
    """What was on a card when it was read.

    card: None while nobody has said which card it is
    began_at: when the card was looked at; what it says is of that moment. Looking again renews it, if nothing changed
    depth: how many folders below the card's root it begins, where a reader shows the inside of a card
    digest: the same for two listings exactly if their entries are
    version: grows with whatever becomes known of its files
    compared: how many of its files were read for a comparison by content
    confirmed_at: when every file that looks like one of the ledger's had its fingerprint taken; None before
    closed_folders: folders that a computer keeps for itself, and that did not open
    bare_folders: folders with nothing in them that would be an entry
    indexes: for each index file on the card (path in the ledger's form), the recordings that it names
    headers_read_at: when every header had been read; until then media facts are still arriving
    """

    card = models.ForeignKey(Card, null=True, on_delete=models.CASCADE, related_name="listings")
    insertion = models.ForeignKey(Insertion, on_delete=models.CASCADE, related_name="listings")
    began_at = models.DateTimeField()
    confirmed_at = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=0)
    compared = models.PositiveIntegerField(default=0)
    depth = models.PositiveSmallIntegerField(default=0)
    layout = models.CharField(max_length=120)
    files = models.PositiveIntegerField()
    bytes = models.BigIntegerField()
    first_ns = models.BigIntegerField(null=True)
    last_ns = models.BigIntegerField(null=True)
    digest = models.CharField(max_length=64)
    bare_folders = models.JSONField(default=list)
    closed_folders = models.JSONField(default=list)
    indexes = models.JSONField(default=dict)
    headers_read_at = models.DateTimeField(null=True)

    class Meta:
        get_latest_by = "id"


class ListedEntry(models.Model):
    """One name of a listing. `path` is in the ledger's form (`core.sources.paths`).

    listing: watched by triggers, a statement at a time (migration 0012); a constraint looks at each row, and took
        longer than the rows themselves
    fingerprint: of its first and last bytes; empty where it was not taken
    algorithm, checksum: what reading it for a comparison gave; empty where it was not read
    """

    listing = models.ForeignKey(CardListing, on_delete=models.CASCADE, related_name="entries", db_constraint=False)
    path = models.TextField()
    kind = models.CharField(max_length=12)
    size = models.BigIntegerField()
    modified_ns = models.BigIntegerField()
    detail = models.TextField(blank=True)
    fingerprint = models.CharField(max_length=32, blank=True)
    algorithm = models.CharField(max_length=10, blank=True)
    checksum = models.CharField(max_length=128, blank=True)


class EntryMedia(models.Model):
    """What is known of a listed file's recording. An unchanged file has the same in the card's next listing."""

    entry = models.OneToOneField(ListedEntry, on_delete=models.CASCADE, primary_key=True, related_name="known_media")
    media = models.ForeignKey(Media, on_delete=models.PROTECT, related_name="+")


class GoneAnswer(models.Model):
    """Somebody answers for files that were on a card, in no copy, and are not on it any more."""

    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="gone_answers")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    reason = models.CharField(max_length=300)


class GoneFile(models.Model):
    """A file that one listing of a card had and a later one has not.

    seen: the listing that had it last. missed: the first that had it no more. Whether that is a loss depends on copies.
    """

    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="gone_files")
    seen = models.ForeignKey(CardListing, on_delete=models.PROTECT, related_name="+")
    missed = models.ForeignKey(CardListing, on_delete=models.PROTECT, related_name="gone_files")
    path = models.TextField()
    size = models.BigIntegerField()
    modified_ns = models.BigIntegerField()
    fingerprint = models.CharField(max_length=32, blank=True)
    answer = models.ForeignKey(GoneAnswer, null=True, on_delete=models.PROTECT, related_name="files")

    class Meta:
        indexes = [models.Index(fields=["card", "id"], name="gone_file_by_card")]
