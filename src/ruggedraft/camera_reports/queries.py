"""What screens read about camera reports: each held against the rolls as they are now."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass

from ruggedraft.core.camera_reports import (
    ColumnUse,
    Matched,
    Mismatch,
    ReportLine,
    RollClips,
    matched,
    proposed_columns,
    rolls_named,
)
from ruggedraft.core.cards import RECORDINGS
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.core.tables import Table, read_table
from ruggedraft.productions.models import Production
from ruggedraft.rolls.clips import described
from ruggedraft.rolls.models import LeftBehind, Roll

from .models import CameraReport, ReportColumns, ReportedLine


@dataclass(frozen=True)
class HeldAgainst:
    """A report and what came of it. lines: those that count: of each roll the newest report does"""

    report: CameraReport
    lines: tuple[ReportLine, ...]
    found: Matched


def reports_of(production: Production, only: Collection[str] | None = None) -> list[HeldAgainst]:
    """Those that count, newest first. A roll is held against the newest report that names it, and no other.

    only: tags of the rolls that are asked for; what is of none of them is left out. None: all
    """
    rows = list(
        CameraReport.objects.filter(production=production, withdrawn_at=None).select_related("by").order_by("-pk")
    )
    tags = _tags(production) if rows else []
    lines = {pk: _about(of, only) for pk, of in _lines_that_count(rows, tags).items()}
    named = {tag for of in lines.values() for meant in of.values() for tag in meant}
    rolls = [*_with_clips(production, named), *(RollClips(tag, {}, frozenset()) for tag in tags if tag not in named)]
    return [HeldAgainst(row, tuple(lines[row.pk]), matched(tuple(lines[row.pk]), rolls)) for row in rows]


_Meant = dict[ReportLine, tuple[str, ...]]
"""Lines, each with the tags that it may mean."""


def _about(lines: _Meant, only: Collection[str] | None) -> _Meant:
    return lines if only is None else {one: tags for one, tags in lines.items() if not set(tags).isdisjoint(only)}


def _lines_that_count(reports: Sequence[CameraReport], tags: Sequence[str]) -> dict[int, _Meant]:
    """By the report's id; but for lines about rolls that a newer report names.

    reports: newest first
    """
    done: set[str] = set()
    found: dict[int, _Meant] = {}
    for pk, lines in _lines(reports).items():
        named = rolls_named(lines, tags)
        found[pk] = {one: named[one.line] for one in lines if done.isdisjoint(named[one.line])}
        done.update(*(of for of in named.values() if len(of) == 1))
    return found


def mismatches_of(production: Production, only: Collection[str] | None = None) -> list[Mismatch]:
    """What reports and rolls do not agree on, newest report first. only: see `reports_of`"""
    return [one for held in reports_of(production, only) for one in held.found.mismatches]


@dataclass(frozen=True)
class RollReport:
    """What is reported of a roll. lines: each with the path of its clip's main file, empty where none fits"""

    report: CameraReport
    lines: tuple[tuple[ReportLine, str], ...]
    mismatches: tuple[Mismatch, ...]


def report_on(production: Production, tag: str) -> RollReport | None:
    """The newest report that names a roll; None where none does."""
    held = next((one for one in reports_of(production, {tag}) if one.lines), None)
    if held is None:
        return None
    lines = tuple((one, to_ledger(held.found.clips.get(one.line, ""))) for one in held.lines)
    return RollReport(held.report, lines, held.found.mismatches)


@dataclass(frozen=True)
class Proposal:
    """table: as it is read. columns: which of them say what, as far as can be told"""

    table: Table
    columns: Mapping[ColumnUse, Sequence[str]]


def propose_columns(production: Production, data: bytes) -> Proposal:
    """How a file would be read. Raises TableRefused."""
    table = read_table(data)
    kept = ReportColumns.objects.filter(production=production).values_list("columns", flat=True).first() or {}
    known = {ColumnUse(use): names for use, names in kept.items()}
    return Proposal(table, proposed_columns(table.head, known))


def _lines(reports: Iterable[CameraReport]) -> dict[int, list[ReportLine]]:
    found: dict[int, list[ReportLine]] = {report.pk: [] for report in reports}
    rows = ReportedLine.objects.filter(report__in=list(found)).order_by("report", "line")
    for row in rows:
        found[row.report_id].append(ReportLine(row.line, row.roll, row.clip, row.scene, row.take, row.remark))
    return found


def _tags(production: Production) -> list[str]:
    return list(Roll.objects.filter(production=production).order_by("pk").values_list("tag", flat=True))


def _with_clips(production: Production, tags: Collection[str]) -> list[RollClips]:
    rolls = Roll.objects.filter(production=production, tag__in=tags).select_related("production", "camera")
    rows = list(rolls.order_by("pk"))
    left: dict[int, list[str]] = {}
    for pk, path in LeftBehind.objects.filter(roll__in=rows).order_by("path").values_list("roll", "path"):
        left.setdefault(pk, []).append(from_ledger(path).rpartition("/")[2])
    clips = {pk: found.clips for pk, found in described(rows).items()}
    return [
        RollClips(
            roll.tag, {clip.main.path: clip.name for clip in clips[roll.pk]},
            frozenset(clip.main.path for clip in clips[roll.pk] if clip.kind in RECORDINGS),
            tuple(left.get(roll.pk, ())),
        )
        for roll in rows
    ]  # fmt: skip
