"""What is plugged in, and what somebody says who begins."""

from collections.abc import Sequence
from datetime import date

from pydantic import BaseModel

from ruggedraft.core.redundancy import StoreFacts, proposed_rule, rule_sentence
from ruggedraft.productions.acts.begin_ledger import Beginning, FirstDrive
from ruggedraft.stores.volumes import Volume, medium_of

from ..stores.shapes import VolumeOut


class BegunOut(BaseModel):
    """begun: somebody can sign in. demo: this is the demo's ledger"""

    begun: bool
    demo: bool


class LookIn(BaseModel):
    """token: what the terminal told. chosen: paths of the drives that copies are to go to."""

    token: str
    chosen: list[str] = []


class RuleOut(BaseModel):
    copies: int
    devices: int
    offsite: int
    sentence: str


class LookOut(BaseModel):
    volumes: list[VolumeOut]
    rule: RuleOut


class DriveIn(BaseModel):
    path: str
    name: str
    medium: str
    place: str = "here"


class BeginIn(BaseModel):
    token: str
    name: str
    password: str
    production: str
    time_zone: str
    first_day: date
    drives: list[DriveIn]
    copies: int
    devices: int
    offsite: int = 0

    def as_beginning(self) -> Beginning:
        said = self.model_dump(exclude={"token", "drives"})
        drives = [FirstDrive(path=one.path, name=one.name, medium=one.medium, place=one.place) for one in self.drives]
        return Beginning(**said, drives=drives)


def proposed(found: Sequence[Volume], chosen: Sequence[str]) -> RuleOut:
    """The rule that copies on the chosen ones suggest."""
    rule = proposed_rule([_as_store(volume) for volume in found if volume.path in chosen and volume.usable])
    return RuleOut(copies=rule.copies, devices=rule.devices, offsite=rule.offsite, sentence=rule_sentence(rule))


def _as_store(volume: Volume) -> StoreFacts:
    return StoreFacts(
        name=volume.path, devices=volume.devices, location="here", medium=medium_of(volume), offsite=False,
        counts=True, lost=False, online=True, free=volume.free,
    )  # fmt: skip
