from django.db import models

from ruggedraft.core.runs import RunKind
from ruggedraft.rolls.models import Copy
from ruggedraft.runs.models import Run


class CheckRun(Run):
    """Somebody asked for a copy to be read again. What was found is a `rolls.Reading`; `outcome` says it in words."""

    KIND = RunKind.CHECK

    run = models.OneToOneField(Run, on_delete=models.CASCADE, parent_link=True, primary_key=True, related_name="+")
    copy = models.ForeignKey(Copy, on_delete=models.PROTECT, related_name="check_runs")

    @staticmethod
    def subject_of(copy_id: int) -> str:
        """See `Run.subject`."""
        return f"check of copy {copy_id}"
