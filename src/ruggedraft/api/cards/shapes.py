"""Every card: where it is, who has it, what is on it, how it has behaved."""

from datetime import datetime

from pydantic import BaseModel

from ruggedraft.clearing.card_list import CardLine, CardsSought, RunOfCard
from ruggedraft.clearing.where import FoundThing
from ruggedraft.core.finding import Thing
from ruggedraft.core.redundancy import CardLife, CardStanding, Files, IfCardIsLost, RollState

from ..clearing.shapes import CaseOut
from ..journal.shapes import LogEntry
from ..shapes import CameraOut


class CardOut(BaseModel):
    """A card as the list shows it. whereabouts: where it is or who has it, in words

    since: when that was noted. holder: who was said to have it last, where that still holds; note: said with it
    bytes: of what is on it. life_bytes: that were read off it in all. cycles: how often it was filled
    errors: files of which it gave an error, over its life. rate, best_rate: bytes a second in its last run, and the
    best ever; null if unknown
    doubts: what speaks against using it again, in sentences
    """

    card_id: int
    label: str
    camera: CameraOut
    kind: str
    capacity: int
    life: CardLife
    standing: CardStanding
    may_go_back: bool
    whereabouts: str
    since: datetime | None
    holder: str
    note: str
    tag: str | None
    files: int
    bytes: int
    read_at: datetime | None
    cycles: int
    life_bytes: int
    errors: int
    rate: float | None
    best_rate: float | None
    out_of_use: str
    doubts: list[str]

    @classmethod
    def of(cls, line: CardLine) -> "CardOut":
        case, record = line.case, line.record
        card, listing = case.card, case.listing
        return cls(
            card_id=card.pk, label=card.label, camera=CameraOut.of(card.owner), kind=card.kind, capacity=card.capacity,
            life=line.life, standing=case.standing, may_go_back=case.standing.may_go_back,
            whereabouts=line.whereabouts, since=line.since, holder=line.said.name if line.said else "",
            note=line.said.note if line.said else "", tag=case.roll.roll.tag if case.roll else None,
            files=listing.files if listing else 0, bytes=listing.bytes if listing else 0,
            read_at=listing.began_at if listing else None,
            cycles=record.rolls, life_bytes=record.bytes, errors=record.errors, rate=record.rate,
            best_rate=record.best_rate, out_of_use=case.facts.out_of_use, doubts=list(case.facts.doubts),
        )  # fmt: skip


class CardsIn(BaseModel):
    """Which cards are asked for; what is left out asks for all. text: part of a label or of a tag of what is on it"""

    text: str = ""
    camera: str = ""
    life: CardLife | None = None

    def as_sought(self) -> CardsSought:
        return CardsSought(self.text, self.camera, self.life)


class CardsOut(BaseModel):
    """A page of cards, by label. after: hand this in to get the next; null on the last. counts: of all cards"""

    cards: list[CardOut]
    after: str | None
    counts: dict[CardLife, int]
    in_all: int


class RollOfCard(BaseModel):
    tag: str
    shoot_day: str
    files: int
    bytes: int
    state: RollState
    cleared: bool


class RunOfCardOut(BaseModel):
    """A run that read it. rate: bytes a second; null where that cannot be told. errors: files that gave one"""

    tag: str
    reader: str
    end: str
    at: datetime
    bytes: int
    rate: float | None
    errors: int

    @classmethod
    def of(cls, one: RunOfCard) -> "RunOfCardOut":
        return cls(
            tag=one.tag, reader=one.reader, end=one.end, at=one.run.at, bytes=one.bytes, rate=one.run.rate,
            errors=one.run.errors,
        )  # fmt: skip


class RemovalIn(BaseModel):
    """tag: of the roll, as it was typed. count, digest: how many files were shown, of which case"""

    tag: str
    count: int
    digest: str


class RemovableOut(BaseModel):
    """Files that may be taken off the card here. paths: the first of them. allowed: whether the production does

    under_way: they are being taken off. waits_for_second: somebody wants it, and the rule asks for two
    """

    allowed: bool
    files: int
    bytes: int
    paths: list[str]
    under_way: bool
    waits_for_second: bool
    last: str


class HolderIn(BaseModel):
    """username: of the crew. outside: the name of somebody else. Neither: nobody carries it"""

    username: str = ""
    outside: str = ""
    note: str = ""


class SomeFilesOut(BaseModel):
    files: int
    bytes: int
    paths: list[str]

    @classmethod
    def of(cls, some: Files) -> "SomeFilesOut":
        return cls(files=some.count, bytes=some.bytes, paths=list(some.paths[:5]))


class IfLostOut(BaseModel):
    """What is lost with the card: files that no copy holds, and those that fall below the rule.

    read_at: when it was last listed; nothing later is known of it. Null: it never was, and nothing is known at all
    """

    read_at: datetime | None
    gone: SomeFilesOut
    below: SomeFilesOut
    safe: SomeFilesOut

    @classmethod
    def of(cls, one: IfCardIsLost, read_at: datetime | None) -> "IfLostOut":
        return cls(
            read_at=read_at,
            gone=SomeFilesOut.of(one.gone),
            below=SomeFilesOut.of(one.below),
            safe=SomeFilesOut.of(one.safe),
        )


class FoundThingOut(BaseModel):
    """where: in words; since: when that was noted. standing: of a card or a roll; empty for a store"""

    thing: Thing
    name: str
    where: str
    since: datetime | None
    standing: CardStanding | RollState | None

    @classmethod
    def of(cls, one: FoundThing) -> "FoundThingOut":
        return cls(thing=one.thing, name=one.name, where=one.where, since=one.since, standing=one.standing)


class CardDetail(BaseModel):
    """if_lost: what would be lost with it. removable.last: how the last removal ended, in a sentence; else empty.

    rolls, runs, events: newest first; events are what the journal says of the card and its rolls."""

    card: CardOut
    case: CaseOut
    removable: RemovableOut
    if_lost: IfLostOut
    rolls: list[RollOfCard]
    runs: list[RunOfCardOut]
    events: list[LogEntry]
