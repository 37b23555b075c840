"""What is done by itself, as Stores and Tally show it."""

from pydantic import BaseModel

from ruggedraft.core.upkeep import Hours
from ruggedraft.stores.models import Store
from ruggedraft.upkeep.models import Care
from ruggedraft.upkeep.orders import OrderStanding
from ruggedraft.upkeep.pacing import Pacing, hours_of
from ruggedraft.upkeep.queries import ReadLately


class _Paced(BaseModel):
    """begins, ends: minutes after midnight by the production's clock; alike: all day. rate: bytes a second, or None"""

    begins: int = 0
    ends: int = 0
    rate: int | None = None

    def pacing(self) -> Pacing:
        """Raises ActRefused."""
        return Pacing(hours_of(self.begins, self.ends), self.rate)


class StandingOrderIn(_Paced):
    """from_store, from_place: where what it brings is verified; both empty: anywhere"""

    to: str
    from_store: str = ""
    from_place: str = ""


class StandingOrderOut(BaseModel):
    """source: the store that it brings from, or the place if `of_place`; empty for anywhere

    hours: such as 22:00 to 06:00, or empty
    rolls, bytes: that it has still to bring; more: and more than these. under_way: of those rolls, that are being
        brought
    why: why nothing more is begun now, as a sentence without its end; or empty
    by: who gave it
    """

    id: int
    source: str
    of_place: bool
    to: str
    hours: str
    rate: int | None
    rolls: int
    bytes: int
    more: bool
    under_way: int
    why: str
    by: str

    @classmethod
    def of(cls, found: OrderStanding) -> "StandingOrderOut":
        order = found.order
        return cls(
            id=order.pk, source=order.source, of_place=order.from_place_id is not None,
            to=order.to_store.name, hours=order.hours.words, rate=order.rate,
            rolls=found.rolls, bytes=found.bytes, more=found.more, under_way=found.under_way, why=found.why,
            by=order.person.shown_name,
        )  # fmt: skip


class CareIn(_Paced):
    """check_days: read again what was not read for so many days; None: nothing by itself"""

    check_days: int | None = None
    mends: bool = False


class CareOut(BaseModel):
    """What is done by itself for the copies on a store.

    copies, bytes: that it is known to hold. read: bytes in copies that were read back whole within `days`
    broken: files that are damaged there, or gone
    by: who asked for it; empty where nobody did
    """

    store: str
    check_days: int | None
    mends: bool
    begins: int
    ends: int
    hours: str
    rate: int | None
    by: str
    days: int
    copies: int
    bytes: int
    read: int
    broken: int

    @classmethod
    def of(cls, store: Store, care: Care | None, lately: ReadLately) -> "CareOut":
        hours = care.hours if care else Hours(0, 0)
        return cls(
            store=store.name, check_days=care.check_days if care else None, mends=bool(care and care.mends),
            begins=hours.begin, ends=hours.end, hours=hours.words, rate=care.rate if care else None,
            by=care.person.shown_name if care else "", days=lately.days, copies=lately.copies, bytes=lately.bytes,
            read=lately.read, broken=lately.broken,
        )  # fmt: skip


class UpkeepOut(BaseModel):
    orders: list[StandingOrderOut]
    cares: list[CareOut]
