import hashlib
from collections.abc import Sequence

from django.db import transaction

from ruggedraft.clearing.refusals import noted_when_refused
from ruggedraft.core.camera_reports import Columns, ReportLine, lines_of
from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.core.tables import read_table
from ruggedraft.core.wording import counted, is_name
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Production

from ..models import CameraReport, ReportColumns, ReportedLine

_LONGEST_CELL = 200
_LONGEST_REMARK = 2000


@noted_when_refused("take in a camera report")
@transaction.atomic
def take_in_report(person: Person, production: Production, name: str, data: bytes, columns: Columns) -> CameraReport:
    """Keep a report's lines. Which columns say what is kept for the next one.

    name: of its file. data: its bytes. Raises ActRefused for what is no report, and for one that was taken in before.
    """
    require(person, May.NOTE, production.pk)
    if not is_name(name, 200):
        raise ActRefused("The file needs a name of at most 200 signs that can be seen.")
    lines = list(lines_of(read_table(data), columns))
    if not lines:
        raise ActRefused("No line of this report names a roll or a clip: look at which columns say so.")
    _none_too_long(lines)
    hold_still(production.pk)
    digest = hashlib.sha256(data).hexdigest()
    before = CameraReport.objects.filter(production=production, sha256=digest, withdrawn_at=None).first()
    if before is not None:
        raise ActRefused(f"This report was taken in before, as {before.name}. Nothing was changed.")
    report = CameraReport.objects.create(production=production, name=name, sha256=digest, at=now(), by=person)
    ReportedLine.objects.bulk_create(
        ReportedLine(
            report=report, line=one.line, roll=one.roll, clip=one.clip, scene=one.scene, take=one.take,
            remark=one.remark,
        )
        for one in lines
    )  # fmt: skip
    kept = {str(use): list(names) for use, names in columns.items()}
    ReportColumns.objects.update_or_create(production=production, defaults={"columns": kept})
    words = f"Camera report {name} was taken in: {counted(len(lines), 'line')}."
    write("take in report", name, words, person=person, production=production.pk, detail={"sha256": digest})
    changed(Topic.NOTES, production=production.pk)
    return report


def _none_too_long(lines: Sequence[ReportLine]) -> None:
    for one in lines:
        long = next((cell for cell in (one.roll, one.clip, one.scene, one.take) if len(cell) > _LONGEST_CELL), None)
        if long is not None or len(one.remark) > _LONGEST_REMARK:
            raise ActRefused(f"Line {one.line} of this report has a cell that is too long to be kept.")


@transaction.atomic
def withdraw_report(person: Person, production: Production, report_id: int) -> None:
    """Let a report count no more; whoever took it in may, and whoever may change the set-up."""
    report = CameraReport.objects.select_for_update(no_key=True).filter(pk=report_id, production=production).first()
    if report is None:
        raise NotThere("There is no such report.")
    require(person, May.NOTE if report.by_id == person.pk else May.SET_UP, production.pk)
    if report.withdrawn_at:
        return
    report.withdrawn_at, report.withdrawn_by = now(), person
    report.save(update_fields=["withdrawn_at", "withdrawn_by"])
    words = f"Camera report {report.name} was withdrawn: it is held against no roll any more."
    write("withdraw report", report.name, words, person=person, production=production.pk)
    changed(Topic.NOTES, production=production.pk)
