"""A day's account on paper: A4, black on white, what is not safe first."""

from collections.abc import Sequence
from datetime import datetime
from zoneinfo import ZoneInfo

from ruggedraft.core.accounts import DayAccount, DayFigures, DayRoll, Material
from ruggedraft.core.redundancy import CopyState, RollState
from ruggedraft.core.wording import counted
from ruggedraft.days.queries import Edition

from .paper import as_pdf, said
from .parts import STYLE, clock, section, size, table
from .ribbon import ribbon_svg

_STYLE = """
.later { border: 0.3mm solid #000; padding: 0 1mm; font-weight: 700; white-space: nowrap }
.ribbon { width: 182mm; margin-top: 2mm }
"""


def day_paper(edition: Edition, days: Sequence[DayFigures]) -> bytes:
    """As PDF. days: those that it is compared with, as they are now"""
    account = edition.account
    parts = [
        f"<h1>{said(account.production)}, day {account.number}, {account.day}</h1>",
        f"<p>{_which(edition)}</p>",
        _open(account),
        section("What was shot", _cameras(account)),
        section("Clips on the clock", ribbon_svg(account.rolls, ZoneInfo(account.time_zone))),
        section("Rolls", _rolls(account)),
        section("Trouble", _troubles(account)),
        section("Cards cleared", _clearances(account)),
        section("Runs", _runs(account)),
        section("Notes", _notes(account)),
        section("Beside other days, as they are now", _days(account, days)),
        f"<p>The journal's last entry then: {account.head}, sealed {said(account.seal[:16])}.</p>",
    ]
    return as_pdf("".join(parts), STYLE + _STYLE)


def _which(edition: Edition) -> str:
    at = _moment(edition.account, edition.account.at)
    if edition.id is not None:
        changed = "" if edition.sealed else " It was changed since: the journal does not know it."
        return f"As it was when {said(edition.by)} handed over, {at}.{changed}"
    return f"As of {at}. What came later than the last hand-over is marked <span class='later'>later</span>."


def _open(account: DayAccount) -> str:
    if not account.open:
        return section("Open", "<p>Nothing of this day is open.</p>")
    return section("Open", f"<ul>{''.join(f'<li>{said(one.sentence)}</li>' for one in account.open)}</ul>")


def _material(material: Material) -> list[str]:
    return [f"{material.clips:,}", hours(material), f"{material.files:,}", said(size(material.bytes))]


def _cameras(account: DayAccount) -> str:
    rows = [
        [f"<span class='tag'>{said(one.letter)}</span> {said(one.name)}", str(one.rolls), *_material(one.material)]
        for one in account.cameras
    ]
    rows.append(["All", str(len(account.rolls)), *_material(account.material)])
    return table(("Camera", "#Rolls", "#Clips", "#Length", "#Files", "#Size"), rows)


def _rolls(account: DayAccount) -> str:
    return table(
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
    return table(
        ("When", "What"),
        ([_clock(account, one.at) + _later(later=one.later), said(one.sentence)] for one in account.troubles),
    )


def _clearances(account: DayAccount) -> str:
    return table(
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
    return table(
        ("Ended", "Run", "Where", "#Took", "#Rate", "How it ended"),
        (
            [_clock(account, one.ended_at) + _later(later=one.later), said(f"{one.kind} of {one.tag}"),
             said(one.station), clock(one.seconds), said(f"{size(int(one.rate))}/s") if one.rate else "",
             said(one.outcome)]
            for one in account.runs
        ),
    )  # fmt: skip


def _notes(account: DayAccount) -> str:
    return table(
        ("On", "Note", "By"),
        ([said(one.about) + _later(later=one.later), said(one.words), said(one.by)] for one in account.notes),
    )


def _days(account: DayAccount, days: Sequence[DayFigures]) -> str:
    return table(
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
