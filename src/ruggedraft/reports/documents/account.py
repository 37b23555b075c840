"""An account on paper: what it comes to and how it is known first, then every file, then the contact sheet."""

from collections.abc import Callable, Sequence
from datetime import datetime
from zoneinfo import ZoneInfo

from ruggedraft.core.accounts import Account, AccountCopy, AccountEdition, AccountRoll, AccountWord
from ruggedraft.core.redundancy import CopyState, RollState
from ruggedraft.core.wording import counted

from .file_list import FileList
from .paper import as_pdf, joined, pages_in, said
from .parts import STYLE, section, size, table

_STYLE = """
.sums { font: 8pt 'Atkinson Hyperlegible Mono'; overflow-wrap: anywhere }
.roll { break-before: page }
"""
_MOST = 200
"""Lines of a table on paper; the rest is in the JSON."""
Tell = Callable[[int], None]
Pictures = Callable[[str], bytes | None]


def account_paper(made: AccountEdition, picture: Pictures, tell: Tell = lambda files: None) -> bytes:
    """As PDF. picture: JPEG by its SHA-256, None where it is lost. tell: how many files are written by now

    The same edition makes the same bytes.
    """
    which = f"{made.account.production}: account of {_about(made.account)}, edition {made.edition.number}"
    files = FileList(made.account, which)
    front = _front(made, which, of="?")
    before = pages_in(front)
    of = before + files.pages
    return joined(_front(made, which, of=str(of)), files.drawn(picture, before, of, tell))


def _about(account: Account) -> str:
    return account.about if account.on == "roll" else f"{account.on} {account.about}"


def _front(made: AccountEdition, which: str, *, of: str) -> bytes:
    account = made.account
    parts = [
        f"<h1>{said(which)}</h1>",
        f"<p>{_edition(made)}</p>",
        _facts(account),
        section("Rolls", _rolls(account)),
        *(_roll(account, roll) for roll in account.rolls),
        section("What happened", _words(account, account.happened)),
    ]
    numbers = f'@page {{ @bottom-right {{ content: counter(page) " of {of}" }} }}'
    return as_pdf("".join(parts), STYLE + _STYLE + numbers)


def _edition(made: AccountEdition) -> str:
    head, account = made.edition, made.account
    zone, seal = said(account.time_zone), said(head.seal[:16])
    old = f"It takes the place of edition {head.number - 1}, <span class='sums'>{head.before}</span>."
    told = [
        f"As the ledger knew it at {_moment(account, head.at)}, asked for by {said(head.by)}. Times are in {zone}.",
        f"SHA-256 of its facts: <span class='sums'>{head.sha256}</span>.",
        old if head.before else "",
        f"The journal's last entry then: {head.head}, sealed <span class='sums'>{seal}</span>.",
        "Stores, states and evidence are as they were then.",
        "A sign that is not in our fonts is written by its number, as \\u05d0.",
    ]
    return " ".join(line for line in told if line)


def _facts(account: Account) -> str:
    return table(("What", "Is"), ([said(name), said(value)] for name, value in account.facts.items() if value))


def _rolls(account: Account) -> str:
    rows = [
        [f"<span class='tag'>{said(one.tag)}</span>", said(one.card), str(one.shoot_day), f"{len(one.files):,}",
         size(one.bytes), _stands(one)]
        for one in account.rolls
    ]  # fmt: skip
    if len(rows) > 1:
        rows.append(["All", "", "", f"{account.files:,}", size(sum(one.bytes for one in account.rolls)), ""])
    return table(("Roll", "Card", "Shoot day", "#Files", "#Size", "Stands"), rows)


def _stands(roll: AccountRoll) -> str:
    words = {RollState.SAFE: "safe", RollState.SHORT: "not safe yet", RollState.BELOW: "below the line"}[roll.state]
    return f"<b>{words}</b>{': ' + said(roll.lacks) if roll.lacks else ''}"


def _roll(account: Account, roll: AccountRoll) -> str:
    unread = sum(not file.checksum for file in roll.files)
    lines = [
        f"Camera {roll.camera} ({roll.camera_name}), card {roll.card}, shoot day {roll.shoot_day}.",
        f"{counted(len(roll.files), 'file')}, {roll.bytes:,} bytes, compared by {roll.algorithm}.",
        f"{counted(unread, 'file')} of it never read off the card." if unread else "",
        f"{counted(len(roll.left_behind), 'file')} left on the card on purpose." if roll.left_behind else "",
    ]
    return (
        f"<h2>Roll <span class='tag'>{said(roll.tag)}</span></h2><p>{said(' '.join(line for line in lines if line))} "
        f"{_stands(roll)}.</p>"
        + _copies(account, roll)
        + _said_of("Taken", account, roll.taken)
        + _said_of("Waived", account, roll.waived)
        + _said_of("Holds", account, roll.holds)
        + _said_of("Delivered", account, roll.delivered)
        + _cleared(account, roll)
        + _runs(account, roll)
    )


def _copies(account: Account, roll: AccountRoll) -> str:
    rows = ([_store(one), _how(one), _last(account, one), _beside(one)] for one in roll.copies)
    return table(("Store and folder", "State and evidence", "Read", "Lists beside it"), rows)


def _store(copy: AccountCopy) -> str:
    off = ", off-site" if copy.offsite else ""
    device = "" if copy.device == copy.store else f"{copy.device}, "
    where = said(f"{device}{copy.medium}, {copy.place}{off}")
    return f"<b>{said(copy.store)}</b><br>{where}<br><span class='sums'>{said(copy.folder)}</span>"


_IN_WORDS = {
    CopyState.WANTED: "wanted: nothing of it is known to be there",
    CopyState.PARTIAL: "partial: not all of it is there",
    CopyState.BROKEN: "damaged",
    CopyState.WEAK: "whole, and not proven as the rule asks, or on a store that does not count",
    CopyState.STALE: "whole, and read too long ago",
    CopyState.VERIFIED: "verified",
    CopyState.LOST: "lost with its store",
}


def _how(copy: AccountCopy) -> str:
    if copy.state is None:
        return "not there any more"
    lacks = (
        f"{copy.files:,} of {copy.files + copy.missing_files:,} files known to be there" if copy.missing_files else ""
    )
    broken = f"{counted(copy.broken_files, 'file')} damaged or gone" if copy.broken_files else ""
    told = (f"<b>{_IN_WORDS[copy.state]}</b>", copy.level and f"evidence: {copy.level}", lacks, broken)
    return "; ".join(part for part in told if part)


def _last(account: Account, copy: AccountCopy) -> str:
    if copy.left_at:
        return f"left {_moment(account, copy.left_at)}"
    times = counted(len(copy.readings), "reading")
    return f"{_moment(account, copy.read_at)}; {times}" if copy.read_at else times


def _beside(copy: AccountCopy) -> str:
    return "<br>".join(
        f"{said(one.path.rpartition('/')[2])} <span class='sums'>{one.sha256[:16]}…</span>" for one in copy.beside
    )


def _said_of(what: str, account: Account, words: Sequence[AccountWord]) -> str:
    return f"<p><b>{what}</b></p>{_words(account, words)}" if words else ""


def _words(account: Account, words: Sequence[AccountWord]) -> str:
    rows = [
        [said(one.on), said(one.words), said(one.by), _moment(account, one.at), _until(account, one)]
        for one in words[-_MOST:]
    ]
    more = len(words) - len(rows)
    note = f"<p>{more:,} earlier ones are in the JSON of this edition.</p>" if more else ""
    return note + table(("On", "What", "By", "When", "Ended"), rows)


def _until(account: Account, one: AccountWord) -> str:
    return f"{_moment(account, one.until)}, {said(one.ended)}" if one.until else ""


def _cleared(account: Account, roll: AccountRoll) -> str:
    rows = [
        [str(one.id), said(one.card), _moment(account, one.at), said(", ".join(one.signers)),
         f"<b>revoked</b> by {said(one.revoked)}" if one.revoked else "stands"]
        for one in roll.cleared
    ]  # fmt: skip
    made = table(("Clearance", "Card", "When", "Signed by", ""), rows)
    return f"<p><b>Cleared</b></p>{made}" if made else ""


def _runs(account: Account, roll: AccountRoll) -> str:
    rows = [
        [_moment(account, one.ended_at), said(f"{one.kind}, {one.by}, {one.station}"), said(one.outcome)]
        for one in roll.runs[-_MOST:]
    ]
    made = table(("Ended", "Run", "How it ended"), rows)
    return f"<p><b>Runs</b></p>{made}" if made else ""


def _moment(account: Account, at: datetime | None) -> str:
    return f"{at.astimezone(ZoneInfo(account.time_zone)):%Y-%m-%d %H:%M:%S}" if at else ""
