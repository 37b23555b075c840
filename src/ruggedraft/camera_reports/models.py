from django.conf import settings
from django.contrib.postgres.indexes import GinIndex
from django.contrib.postgres.search import SearchVector
from django.db import models

from ruggedraft.productions.models import Production


class ReportColumns(models.Model):
    """Which columns of its reports say what, as somebody last said for a production.

    columns: `core.camera_reports.Columns` as data
    """

    production = models.OneToOneField(Production, on_delete=models.CASCADE, related_name="report_columns")
    columns = models.JSONField()


class CameraReport(models.Model):
    """A report as it was taken in. What of it agrees with the rolls is worked out whenever somebody asks.

    name: of its file. sha256: of its bytes. withdrawn_at: since when it does not count any more
    """

    production = models.ForeignKey(Production, on_delete=models.PROTECT, related_name="camera_reports")
    name = models.CharField(max_length=200)
    sha256 = models.CharField(max_length=64)
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    withdrawn_at = models.DateTimeField(null=True)
    withdrawn_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["production", "sha256"], condition=models.Q(withdrawn_at=None), name="a_report_counts_once"
            )
        ]


TEXT_OF_LINES = SearchVector("clip", "scene", "take", "remark", config="english")
"""What is looked for in it; in this very form it is indexed."""


class ReportedLine(models.Model):
    """A line of a report, as it says it; see `core.camera_reports.ReportLine`."""

    report = models.ForeignKey(CameraReport, on_delete=models.CASCADE, related_name="lines")
    line = models.PositiveIntegerField()
    roll = models.CharField(max_length=200)
    clip = models.CharField(max_length=200)
    scene = models.CharField(max_length=200, blank=True)
    take = models.CharField(max_length=200, blank=True)
    remark = models.TextField(blank=True)

    class Meta:
        indexes = [GinIndex(TEXT_OF_LINES, name="reported_line_by_words")]
