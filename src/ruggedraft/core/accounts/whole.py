"""An account of rolls, file by file: what was taken, its checksums, which stores hold it, who did what and when."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from enum import StrEnum

from ..evidence import Result
from ..redundancy import CopyState, RollState
from ..runs import RunEnd, RunKind

FORM = 1
"""Of the JSON; docs/account.schema.json."""


class AccountOn(StrEnum):
    """What an account is of."""

    ROLL = "roll"
    CARD = "card"
    """every roll that was ever on it"""
    DAY = "day"
    """every roll of a shoot day"""
    STORE = "store"
    """every roll of which there is, or was, a copy on it"""


@dataclass(frozen=True, slots=True)
class NotThere:
    """A file that a copy is not known to hold.

    result: what speaks against it; empty where nothing does: never brought, or not read since its store was found
    """

    store: str
    result: Result | None = None


@dataclass(frozen=True, slots=True)
class AccountFile:
    """A file of a roll. path: on its card. kept_as: on the stores, beneath the copy's folder

    checksum: by the roll's algorithm; empty where it was never read. more: further ones of the same reading
    waived: it need not be covered. missing: the copies that are not known to hold it
    """

    path: str
    kept_as: str
    size: int
    modified_at: datetime
    checksum: str
    more: Mapping[str, str]
    waived: bool
    missing: tuple[NotThere, ...]


@dataclass(frozen=True)
class AccountReading:
    """Of a copy. agreed, wrong: files"""

    origin: str
    began_at: datetime
    level: str
    agreed: int
    wrong: int


@dataclass(frozen=True)
class AccountList:
    """A list or record that lies beside a copy, with the SHA-256 of its content."""

    path: str
    sha256: str


@dataclass(frozen=True)
class AccountCopy:
    """state: as it was judged when the account was made. level: the weakest evidence among the files that it holds

    left_at: since when it is not there any more
    """

    store: str
    device: str
    medium: str
    place: str
    offsite: bool
    folder: str
    state: CopyState | None
    level: str
    read_at: datetime | None
    files: int
    missing_files: int
    broken_files: int
    left_at: datetime | None
    readings: tuple[AccountReading, ...]
    beside: tuple[AccountList, ...]


@dataclass(frozen=True)
class AccountWord:
    """Something that somebody said of a file, a roll or a card: on: what. until: when it ended, and by whom and why"""

    on: str
    by: str
    at: datetime
    words: str
    until: datetime | None = None
    ended: str = ""


@dataclass(frozen=True)
class AccountLeft:
    """A file that stayed on the card on purpose."""

    path: str
    size: int
    by: str
    at: datetime


@dataclass(frozen=True, slots=True)
class AccountPicture:
    """A picture of a file of the roll. digest: SHA-256, under which it is kept"""

    path: str
    digest: str


@dataclass(frozen=True)
class AccountClearance:
    """revoked: by whom and why; empty where it stands"""

    id: int
    card: str
    at: datetime
    signers: tuple[str, ...]
    revoked: str


@dataclass(frozen=True)
class AccountRun:
    """outcome: how it ended, in a sentence"""

    kind: RunKind
    station: str
    by: str
    started_at: datetime | None
    ended_at: datetime
    end: RunEnd
    outcome: str


@dataclass(frozen=True)
class AccountRoll:
    """A roll with every file of it. state, lacks: as it was judged when the account was made; lacks: empty where safe

    taken: the moments at which files became content of it, how many, and by whom
    pictures: for its contact sheet, evenly taken where there are very many
    """

    tag: str
    camera: str
    camera_name: str
    card: str
    shoot_day: date
    opened_at: datetime
    algorithm: str
    state: RollState
    lacks: str
    taken: tuple[AccountWord, ...]
    copies: tuple[AccountCopy, ...]
    files: tuple[AccountFile, ...]
    left_behind: tuple[AccountLeft, ...]
    waived: tuple[AccountWord, ...]
    holds: tuple[AccountWord, ...]
    delivered: tuple[AccountWord, ...]
    cleared: tuple[AccountClearance, ...]
    runs: tuple[AccountRun, ...]
    pictures: tuple[AccountPicture, ...]

    @property
    def bytes(self) -> int:
        """Of all files."""
        return sum(file.size for file in self.files)


@dataclass(frozen=True)
class Account:
    """about: a roll's tag, a card's label, a store's name, or a day. facts: of the thing itself, by what they are

    happened: what the journal says of the thing itself, oldest first
    """

    form: int
    production: str
    production_uuid: str
    time_zone: str
    on: AccountOn
    about: str
    facts: Mapping[str, str]
    rolls: tuple[AccountRoll, ...]
    happened: tuple[AccountWord, ...]

    @property
    def files(self) -> int:
        """Of all rolls."""
        return sum(len(roll.files) for roll in self.rolls)


@dataclass(frozen=True)
class EditionHead:
    """What names an edition. number: the first is 1. sha256: of its facts. head, seal: of the journal, when it was made

    before: SHA-256 of the facts of the edition before; empty of the first
    """

    number: int
    at: datetime
    by: str
    sha256: str
    head: int
    seal: str
    before: str


@dataclass(frozen=True)
class AccountEdition:
    """What is handed out: an account, and which edition of it that is."""

    edition: EditionHead
    account: Account
