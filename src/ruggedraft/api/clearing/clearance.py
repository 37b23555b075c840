"""A clearance's page: what it was decided on, and what happened since."""

from datetime import datetime
from typing import Any

from pydantic import BaseModel

from ruggedraft.clearing.clearance_page import ClearancePage
from ruggedraft.core.redundancy import RollState

from ..journal.shapes import LogEntry


class ClearedFileOut(BaseModel):
    roll: str
    path: str
    size: int
    modified_at: datetime
    checksum: str


class RollNowOut(BaseModel):
    """How a roll that was cleared stands now."""

    tag: str
    state: RollState


class ClearanceOut(BaseModel):
    """evidence: as it was written then; its parts are described in docs/clearances.md.

    files: the first of what was on the card; files_in_all: how many. since: of the journal, newest first
    """

    id: int
    card: str
    tag: str
    at: datetime
    evidence: dict[str, Any]
    files: list[ClearedFileOut]
    files_in_all: int
    revoked_at: datetime | None
    revoked_by: str
    revoked_why: str
    handed_back_at: datetime | None
    handed_to: str
    rolls_now: list[RollNowOut]
    since: list[LogEntry]

    @classmethod
    def of(cls, page: ClearancePage) -> "ClearanceOut":
        row, revoked, back = page.row, page.revocation, page.handed_back
        return cls(
            id=row.pk, card=row.card.label, tag=row.roll.tag, at=row.at, evidence=row.evidence,
            files=[
                ClearedFileOut(
                    roll=file.roll, path=file.path, size=file.size, modified_at=file.modified_at,
                    checksum=file.checksum,
                )
                for file in page.files
            ],
            files_in_all=page.files_in_all,
            revoked_at=revoked.at if revoked else None,
            revoked_by=revoked.person.shown_name if revoked else "",
            revoked_why=revoked.reason if revoked else "",
            handed_back_at=back.at if back else None,
            handed_to=back.to if back else "",
            rolls_now=[RollNowOut(tag=tag, state=state) for tag, state in page.rolls_now.items()],
            since=[LogEntry.of(entry) for entry in page.since],
        )  # fmt: skip
