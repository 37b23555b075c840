"""An account as a table for spreadsheets: a line a file."""

from collections.abc import Iterator

from ruggedraft.core.accounts import AccountCopy, AccountEdition, AccountFile, AccountRoll
from ruggedraft.core.redundancy import CopyState
from ruggedraft.core.tables import as_csv

_HEAD = (
    "roll", "card", "shoot_day", "path_on_card", "kept_as", "bytes", "modified_at", "algorithm", "checksum",
    "further_checksums", "waived", "verified_copies", "held_by", "not_known_to_be_on", "edition", "as_of",
)  # fmt: skip


def account_table(made: AccountEdition) -> bytes:
    """CSV. verified_copies: so many verified copies hold it. held_by: stores that are known to hold it"""
    return as_csv(_HEAD, _rows(made))


def _rows(made: AccountEdition) -> Iterator[list[object]]:
    edition = [made.edition.number, made.edition.at.isoformat(timespec="seconds")]
    for roll in made.account.rolls:
        copies = [copy for copy in roll.copies if copy.left_at is None]
        for file in roll.files:
            yield [*_file(roll, file, copies), *edition]


def _file(roll: AccountRoll, file: AccountFile, copies: list[AccountCopy]) -> list[object]:
    missing = {one.store for one in file.missing}
    there = [copy for copy in copies if copy.store not in missing and copy.state is not CopyState.LOST]
    verified = [copy for copy in there if copy.state is CopyState.VERIFIED]
    more = "; ".join(f"{name} {checksum}" for name, checksum in sorted(file.more.items()))
    return [
        roll.tag, roll.card, roll.shoot_day.isoformat(), file.path, file.kept_as, file.size,
        file.modified_at.isoformat(timespec="seconds"), roll.algorithm, file.checksum, more,
        "waived" if file.waived else "", len(verified), "; ".join(copy.store for copy in there), _lacking(file),
    ]  # fmt: skip


def _lacking(file: AccountFile) -> str:
    return "; ".join(f"{one.store} ({one.result})" if one.result else one.store for one in file.missing)
