from typing import ClassVar

from django.conf import settings
from django.db import models

from ruggedraft.core.runs import RunEnd, RunKind, RunState
from ruggedraft.kit.models import Station
from ruggedraft.rolls.models import Roll


class RunQueue(models.TextChoices):
    """Runs of one queue wait for one another; runs of different queues do not."""

    CARDS = "cards"
    """what a card or a person waits for"""
    FEEDS = "feeds"
    """may take hours, and no card waits for it"""
    MAKING = "making"
    """takes a processor for hours, and waits for every card"""


class Run(models.Model):
    """Something that a station does for a roll and that may take long. Each kind adds its own fields in a child model.

    subject: what it works on; there is at most one open run of a subject
    person: who asked for it, or for the run that it follows from
    rate: how fast it may go, in bytes a second; None: as fast as it goes
    rank: its place in the station's queue; the lowest goes first. held_back: paused until somebody lets it go on
    started_at: when a worker first took it. finished_at: when it ended, well or badly
    end: how it ended, empty while it has not. outcome: the same in a sentence
    """

    KIND: ClassVar[RunKind]
    QUEUE: ClassVar[RunQueue] = RunQueue.CARDS

    kind = models.CharField(max_length=12, choices=[(kind.value, kind.value) for kind in RunKind])
    queue = models.CharField(max_length=12, choices=RunQueue.choices)
    subject = models.CharField(max_length=80)
    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="runs")
    station = models.ForeignKey(Station, on_delete=models.PROTECT, related_name="runs")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    rate = models.BigIntegerField(null=True)
    rank = models.BigIntegerField(default=0)
    held_back = models.BooleanField(default=False)
    asked_at = models.DateTimeField()
    started_at = models.DateTimeField(null=True)
    cancel_asked_at = models.DateTimeField(null=True)
    finished_at = models.DateTimeField(null=True)
    end = models.CharField(max_length=12, blank=True, choices=[(end.value, end.value) for end in RunEnd])
    outcome = models.TextField(blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["subject"], condition=models.Q(finished_at=None), name="one_open_run_a_subject"
            )
        ]
        indexes = [
            models.Index(
                fields=["station", "rank"], condition=models.Q(finished_at=None), name="open_runs_of_a_station"
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
