"""Deliveries: put together for somebody, taken back, received."""

from base64 import b64encode
from datetime import datetime

from django.http import HttpRequest
from ninja import File, Path, Router
from ninja.files import UploadedFile
from pydantic import BaseModel

from ruggedraft.core.delivering import DeliveryWay
from ruggedraft.delivering.acts.deliver import deliver, withdraw
from ruggedraft.delivering.acts.keep_emblem import MOST_BYTES, forget_emblem, keep_emblem
from ruggedraft.delivering.acts.receive import receive
from ruggedraft.delivering.models import Receipt
from ruggedraft.delivering.queries import Delivered, deliveries_of, delivery_with, emblem_of
from ruggedraft.live.snapshot import one_moment
from ruggedraft.live.together import asked_together
from ruggedraft.productions.queries import production_named
from ruggedraft.reports.acts.leave_papers import leave_papers
from ruggedraft.reports.papers import have_papers_made
from ruggedraft.stores.queries import store_in

from ..shapes import REFUSED, Done
from ..who import who

router = Router(tags=["deliveries"])


class ReceiptOut(BaseModel):
    """by: of the crew, who noted it; empty where it was said on the client's page"""

    name: str
    checked: bool
    at: datetime
    by: str

    @classmethod
    def of(cls, one: Receipt) -> "ReceiptOut":
        return cls(name=one.name, checked=one.checked, at=one.at, by=one.person.shown_name if one.person else "")


class ConsignedOut(BaseModel):
    """edition: id of its account, as it was then. chosen: only the clips that somebody kept"""

    tag: str
    edition: int
    chosen: bool


class ConsignmentOut(BaseModel):
    """files, bytes: that go. fetched: files of which every byte went out by the link. open: the link opens now"""

    id: int
    to: str
    way: DeliveryWay
    note: str
    by: str
    at: datetime
    withdrawn_at: datetime | None
    rolls: list[ConsignedOut]
    files: int
    bytes: int
    fetched: int
    link_until: datetime | None
    has_password: bool
    open: bool
    receipts: list[ReceiptOut]

    @classmethod
    def of(cls, one: Delivered) -> "ConsignmentOut":
        row = one.row
        return cls(
            id=row.pk, to=row.to, way=DeliveryWay(row.way), note=row.note, by=row.by.shown_name, at=row.at,
            withdrawn_at=row.withdrawn_at,
            rolls=[ConsignedOut(tag=r.roll.tag, edition=r.edition_id, chosen=r.files is not None) for r in one.rolls],
            files=one.files, bytes=one.bytes, fetched=one.fetched, link_until=one.link_until,
            has_password=one.has_password, open=one.open, receipts=[ReceiptOut.of(r) for r in one.receipts],
        )  # fmt: skip


class ConsignmentIn(BaseModel):
    """kept_only: of each roll the clips that somebody keeps. days, password: of a link"""

    tags: list[str]
    to: str
    way: DeliveryWay
    note: str = ""
    kept_only: bool = False
    days: int = 14
    password: str = ""


class SentOut(BaseModel):
    """address: where the client's page is, this once; empty where it goes another way"""

    id: int
    address: str


class ReceivedIn(BaseModel):
    name: str
    checked: bool = False


class PapersIn(BaseModel):
    """store: that the copies lie on, by name"""

    store: str


class LeftOut(BaseModel):
    """paths: on the store"""

    paths: list[str]


class EmblemOut(BaseModel):
    """picture: as a data address; empty where clients' pages show none. by, at: who put it there, and when"""

    picture: str = ""
    by: str = ""
    at: datetime | None = None


@router.get("", response=list[ConsignmentOut])
@asked_together
@one_moment()
def deliveries(request: HttpRequest, production: Path[str]) -> list[ConsignmentOut]:
    """Newest first."""
    return [ConsignmentOut.of(one) for one in deliveries_of(production_named(production))]


@router.post("", response={200: SentOut, **REFUSED})
def make(request: HttpRequest, production: Path[str], given: ConsignmentIn) -> SentOut:
    made, secret = deliver(who(request), production_named(production), **given.model_dump())
    have_papers_made()
    return SentOut(id=made.pk, address=request.build_absolute_uri(f"/d/{secret}/") if secret else "")


@router.get("/emblem", response=EmblemOut)
@asked_together
@one_moment()
def emblem(request: HttpRequest, production: Path[str]) -> EmblemOut:
    """The picture that clients' pages show."""
    found = emblem_of(production_named(production))
    if found is None:
        return EmblemOut()
    shown = f"data:image/jpeg;base64,{b64encode(found.picture).decode()}"
    return EmblemOut(picture=shown, by=found.by.shown_name, at=found.at)


@router.post("/emblem", response={200: Done, **REFUSED})
def show_emblem(request: HttpRequest, production: Path[str], file: File[UploadedFile]) -> Done:
    """Show a picture on every client's page."""
    keep_emblem(who(request), production_named(production), file.read(MOST_BYTES + 1))
    return Done()


@router.delete("/emblem", response={200: Done, **REFUSED})
def no_emblem(request: HttpRequest, production: Path[str]) -> Done:
    """Show none any more."""
    forget_emblem(who(request), production_named(production))
    return Done()


@router.delete("/{consignment_id}", response={200: Done, **REFUSED})
def take_back(request: HttpRequest, production: Path[str], consignment_id: int) -> Done:
    """It goes nowhere any more; a link opens nothing from now on."""
    withdraw(who(request), delivery_with(production_named(production), consignment_id))
    return Done()


@router.post("/{consignment_id}/papers", response={200: LeftOut, **REFUSED})
def papers(request: HttpRequest, production: Path[str], consignment_id: int, given: PapersIn) -> LeftOut:
    """Accounts, and a READ ME, beside the copies on a drive that goes to somebody."""
    here = production_named(production)
    return LeftOut(
        paths=leave_papers(who(request), delivery_with(here, consignment_id), store_in(here.pk, given.store))
    )


@router.post("/{consignment_id}/received", response={200: Done, **REFUSED})
def received(request: HttpRequest, production: Path[str], consignment_id: int, given: ReceivedIn) -> Done:
    """Somebody was told that it arrived: its rolls are delivered."""
    row = delivery_with(production_named(production), consignment_id)
    receive(row, given.name, checked=given.checked, person=who(request))
    return Done()
