"""A day's account as a table for spreadsheets: a line a roll."""

from ruggedraft.core.accounts import DayAccount, DayRoll
from ruggedraft.core.redundancy import CopyState
from ruggedraft.core.tables import as_csv

_HEAD = (
    "shoot_day", "roll", "camera", "card", "opened_at", "files", "bytes", "clips", "seconds", "clips_of_unknown_length",
    "state", "lacks", "verified_copies", "copies", "later", "was", "as_of",
)  # fmt: skip


def day_table(account: DayAccount) -> bytes:
    """CSV. seconds: of recordings; copies: each store with how the copy stands"""
    return as_csv(_HEAD, (_row(account, roll) for roll in account.rolls))


def _row(account: DayAccount, roll: DayRoll) -> list[object]:
    material = roll.material
    verified = sum(copy.state is CopyState.VERIFIED for copy in roll.copies)
    copies = "; ".join(f"{copy.store}: {copy.state}" for copy in roll.copies)
    return [
        account.day.isoformat(), roll.tag, roll.camera, roll.card, roll.opened_at.isoformat(timespec="seconds"),
        material.files, material.bytes, material.clips, material.seconds, material.untold, str(roll.state), roll.why,
        verified, copies, "later" if roll.later else "", roll.was, account.at.isoformat(timespec="seconds"),
    ]  # fmt: skip
