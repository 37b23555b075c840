from django.db import models

from ruggedraft.productions.models import Camera


class Station(models.Model):
    """A machine with readers and drives. Its name is also the name of its work queue."""

    name = models.CharField(max_length=40, unique=True)
    seen_at = models.DateTimeField(null=True)


class Reader(models.Model):
    """A slot. `path` is where its card appears."""

    station = models.ForeignKey(Station, on_delete=models.CASCADE, related_name="readers")
    name = models.CharField(max_length=40)
    path = models.CharField(max_length=1000)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["station", "name"], name="reader_name_once")]
        ordering = ["name"]


class Card(models.Model):
    """The physical medium. `serial` is its file system's, None where it was never read."""

    label = models.CharField(max_length=40, unique=True)
    serial = models.CharField(max_length=80, unique=True, null=True)
    kind = models.CharField(max_length=40, blank=True)
    capacity = models.BigIntegerField(default=0)
    camera = models.ForeignKey(Camera, null=True, on_delete=models.PROTECT, related_name="cards")


class Insertion(models.Model):
    """A card's stay in a reader. `serial` is what was seen, known or not; `trouble` what went wrong."""

    reader = models.ForeignKey(Reader, on_delete=models.CASCADE, related_name="insertions")
    card = models.ForeignKey(Card, null=True, on_delete=models.PROTECT, related_name="insertions")
    serial = models.CharField(max_length=80)
    kind = models.CharField(max_length=40, blank=True)
    capacity = models.BigIntegerField(default=0)
    inserted_at = models.DateTimeField()
    removed_at = models.DateTimeField(null=True)
    trouble = models.CharField(max_length=500, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["reader"], condition=models.Q(removed_at=None), name="one_card_in_a_reader_at_a_time"
            ),
        ]


class CardListing(models.Model):
    """What was on a card when it was read. `digest` is the same for two listings exactly if their entries are."""

    card = models.ForeignKey(Card, on_delete=models.CASCADE, related_name="listings")
    insertion = models.ForeignKey(Insertion, on_delete=models.CASCADE, related_name="listings")
    read_at = models.DateTimeField()
    layout = models.CharField(max_length=40)
    files = models.PositiveIntegerField()
    bytes = models.BigIntegerField()
    stills = models.PositiveIntegerField()
    video = models.PositiveIntegerField()
    sound = models.PositiveIntegerField()
    other = models.PositiveIntegerField()
    first_ns = models.BigIntegerField(null=True)
    last_ns = models.BigIntegerField(null=True)
    digest = models.CharField(max_length=64)

    class Meta:
        get_latest_by = "id"


class ListedEntry(models.Model):
    """One name of a listing; folders are left out. `path` is in the ledger's form (`core.cards.ledger_path`)."""

    listing = models.ForeignKey(CardListing, on_delete=models.CASCADE, related_name="entries")
    path = models.TextField()
    kind = models.CharField(max_length=12)
    size = models.BigIntegerField()
    modified_ns = models.BigIntegerField()
    detail = models.TextField(blank=True)
