"""A day's account on paper: A4, black on white, what is not safe first."""

from collections.abc import Iterable, Sequence
from datetime import datetime
from zoneinfo import ZoneInfo

from ruggedraft.core.accounts import DayAccount, DayFigures, DayRoll, Material
from ruggedraft.core.redundancy import CopyState, RollState
from ruggedraft.core.wording import counted
from ruggedraft.days.queries import Edition

from .paper import as_pdf, said
from .ribbon import ribbon_svg

_STYLE = """
@page { size: A4; margin: 16mm 14mm 16mm;
  @bottom-left { content: string(which); font: 8pt 'Atkinson Hyperlegible' }
  @bottom-right { content: counter(page) " of " counter(pages); font: 8pt 'Atkinson Hyperlegible' } }
body { font: 9pt/1.35 'Atkinson Hyperlegible'; color: #000; margin: 0 }
h1 { font: 700 24pt/1 'Sofia Sans Condensed'; margin: 0; string-set: which content() }
h2 { font: 700 13pt/1.1 'Sofia Sans Condensed'; margin: 5mm 0 1.5mm; border-bottom: 0.7mm solid #000;
     break-after: avoid }
p { margin: 1mm 0 }
table { width: 100%; border-collapse: collapse }
td, th { text-align: left; vertical-align: top; padding: 0.8mm 2mm 0.8mm 0; border-bottom: 0.15mm solid #888 }
th { font-weight: 700; border-bottom: 0.35mm solid #000 }
tr { break-inside: avoid }
.number { text-align: right; white-space: nowrap }
.tag { font: 700 11pt/1.1 'Sofia Sans Condensed'; white-space: nowrap }
.later { border: 0.3mm solid #000; padding: 0 1mm; font-weight: 700; white-space: nowrap }
.ribbon { width: 182mm; margin-top: 2mm }
li { margin: 0.6mm 0 }
ul { margin: 0; padding-left: 4mm }
"""


def day_paper(edition: Edition, days: Sequence[DayFigures]) -> bytes:
    """As PDF. days: those that it is compared with, as they are now"""
    account = edition.account
    parts = [
        f"<h1>{said(account.production)}, day {account.number}, {account.day}</h1>",
        f"<p>{_which(edition)}</p>",
        _open(account),
        _section("What was shot", _cameras(account)),
        _section("Clips on the clock", ribbon_svg(account.rolls, ZoneInfo(account.time_zone))),
        _section("Rolls", _rolls(account)),
        _section("Trouble", _troubles(account)),
        _section("Cards cleared", _clearances(account)),
        _section("Runs", _runs(account)),
        _section("Notes", _notes(account)),
        _section("Beside other days, as they are now", _days(account, days)),
        f"<p>The journal's last entry then: {account.head}, sealed {said(account.seal[:16])}.</p>",
    ]
    return as_pdf("".join(parts), _STYLE)


def _which(edition: Edition) -> str:
    at = _moment(edition.account, edition.account.at)
    if edition.id is not None:
        changed = "" if edition.sealed else " It was changed since: the journal does not know it."
        return f"As it was when {said(edition.by)} handed over, {at}.{changed}"
    return f"As of {at}. What came later than the last hand-over is marked <span class='later'>later</span>."


def _section(name: str, body: str) -> str:
    return f"<h2>{name}</h2>{body}" if body else ""


def _open(account: DayAccount) -> str:
    if not account.open:
        return _section("Open", "<p>Nothing of this day is open.</p>")
    return _section("Open", f"<ul>{''.join(f'<li>{said(one.sentence)}</li>' for one in account.open)}</ul>")


def _table(head: Sequence[str], rows: Iterable[Sequence[str]]) -> str:
    """Cells are HTML. A column whose name begins with # holds numbers."""
    names = "".join(f"<th{_of(name)}>{said(name.lstrip('#'))}</th>" for name in head)
    body = "".join(
        f"<tr>{''.join(f'<td{_of(name)}>{cell}</td>' for name, cell in zip(head, row, strict=True))}</tr>"
        for row in rows
    )
    return f"<table><thead><tr>{names}</tr></thead><tbody>{body}</tbody></table>" if body else ""


def _of(name: str) -> str:
    return " class='number'" if name.startswith("#") else ""


def _material(material: Material) -> list[str]:
    return [f"{material.clips:,}", hours(material), f"{material.files:,}", said(size(material.bytes))]


def _cameras(account: DayAccount) -> str:
    rows = [
        [f"<span class='tag'>{said(one.letter)}</span> {said(one.name)}", str(one.rolls), *_material(one.material)]
        for one in account.cameras
    ]
    rows.append(["All", str(len(account.rolls)), *_material(account.material)])
    return _table(("Camera", "#Rolls", "#Clips", "#Length", "#Files", "#Size"), rows)


def _rolls(account: DayAccount) -> str:
    return _table(
        ("Roll", "Card", "#Clips", "#Length", "#Files", "#Size", "Stands", "Copies"),
        (
            [f"<span class='tag'>{said(one.tag)}</span>{_later(later=one.later)}", said(one.card),
             *_material(one.material), _stands(one), _copies(one)]
            for one in account.rolls
        ),
    )  # fmt: skip


def _stands(roll: DayRoll) -> str:
    words = {RollState.SAFE: "safe", RollState.SHORT: "not safe yet", RollState.BELOW: "below the line"}[roll.state]
    was = f"<br>At the hand-over: {said(roll.was)}" if roll.was else ""
    return f"<b>{words}</b>{': ' + said(roll.why) if roll.why else ''}{was}"


def _copies(roll: DayRoll) -> str:
    good = [copy.store for copy in roll.copies if copy.state is CopyState.VERIFIED]
    rest = [f"{copy.store} {copy.state}" for copy in roll.copies if copy.state is not CopyState.VERIFIED]
    return "; ".join([said(f"{len(good)} verified: {', '.join(good)}" if good else "none verified"), *map(said, rest)])


def _troubles(account: DayAccount) -> str:
    return _table(
        ("When", "What"),
        ([_clock(account, one.at) + _later(later=one.later), said(one.sentence)] for one in account.troubles),
    )


def _clearances(account: DayAccount) -> str:
    return _table(
        ("When", "Card", "Rolls", "Signed by"),
        (
            [_clock(account, one.at) + _later(later=one.later), said(one.card), said(", ".join(one.rolls)),
             said(", ".join(one.signers)) + _revoked(one.revoked, later=one.revoked_later)]
            for one in account.clearances
        ),
    )  # fmt: skip


def _revoked(by: str, *, later: bool) -> str:
    return f"<br><b>Revoked</b> by {said(by)}{_later(later=later)}" if by else ""


def _runs(account: DayAccount) -> str:
    return _table(
        ("Ended", "Run", "Where", "#Took", "#Rate", "How it ended"),
        (
            [_clock(account, one.ended_at) + _later(later=one.later), said(f"{one.kind} of {one.tag}"),
             said(one.station), clock(one.seconds), said(f"{size(int(one.rate))}/s") if one.rate else "",
             said(one.outcome)]
            for one in account.runs
        ),
    )  # fmt: skip


def _notes(account: DayAccount) -> str:
    return _table(
        ("On", "Note", "By"),
        ([said(one.about) + _later(later=one.later), said(one.words), said(one.by)] for one in account.notes),
    )


def _days(account: DayAccount, days: Sequence[DayFigures]) -> str:
    return _table(
        ("Day", "#Rolls", "#Clips", "#Length", "#Files", "#Size", "#Not safe", "#Trouble", "#Cleared"),
        (
            [f"<b>{one.number}, {one.day}</b>" if one.day == account.day else f"{one.number}, {one.day}",
             str(one.rolls), *_material(one.material), str(one.unsafe), str(one.troubles), str(one.clearances)]
            for one in days
        ),
    )  # fmt: skip


def _later(*, later: bool) -> str:
    return " <span class='later'>later</span>" if later else ""


def _moment(account: DayAccount, at: datetime) -> str:
    return f"{at.astimezone(ZoneInfo(account.time_zone)):%Y-%m-%d %H:%M} ({said(account.time_zone)})"


def _clock(account: DayAccount, at: datetime) -> str:
    return f"{at.astimezone(ZoneInfo(account.time_zone)):%H:%M}"


def hours(material: Material) -> str:
    """
    >>> hours(Material(seconds=3725.4)), hours(Material(seconds=60, untold=2)), hours(Material(clips=3))
    ('1:02:05', '0:01:00 and 2 recordings of unknown length', '-')
    """
    told = [clock(material.seconds)] if material.seconds else []
    if material.untold:
        told.append(f"{counted(material.untold, 'recording')} of unknown length")
    return " and ".join(told) or "-"


def clock(seconds: float) -> str:
    """Hours, minutes and seconds, cut to the second.

    >>> clock(59.9), clock(90061)
    ('0:00:59', '25:01:01')
    """
    whole = int(seconds)
    return f"{whole // 3600}:{whole // 60 % 60:02}:{whole % 60:02}"


_UNITS = ("bytes", "kB", "MB", "GB", "TB", "PB")


def size(count: int) -> str:
    """As drive makers count.

    >>> size(999), size(1_250_000_000), size(999_999)
    ('999 bytes', '1.25 GB', '1 MB')
    """
    value, step = float(count), 0
    while value >= 999.5 and step < len(_UNITS) - 1:
        value, step = value / 1000, step + 1
    return (
        f"{count} bytes"
        if step == 0
        else f"{value:.3g} {_UNITS[step]}"
        if value < 100
        else f"{value:.0f} {_UNITS[step]}"
    )
