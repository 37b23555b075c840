"""What stations started after a roll's offloads."""

from datetime import datetime

from pydantic import BaseModel

from ruggedraft.offloads.models import AfterRun


class AfterOut(BaseModel):
    """What was started after an offload. code: what it ended with; None while it goes on, or where it was stopped

    trouble: why it was not started, or was stopped, as a clause
    """

    program: str
    station: str
    started_at: datetime
    ended_at: datetime | None
    code: int | None
    output: str
    trouble: str

    @classmethod
    def of(cls, one: AfterRun) -> "AfterOut":
        return cls(
            program=one.program, station=one.offload.station.name, started_at=one.started_at, ended_at=one.ended_at,
            code=one.code, output=one.output, trouble=one.trouble,
        )  # fmt: skip
