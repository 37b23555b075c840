"""Offloads: what one would do, starting it, and the queue of those that wait."""

from django.http import HttpRequest
from ninja import Path, Router

from ruggedraft.core.taking import EVERYTHING
from ruggedraft.intake.queries import card_of
from ruggedraft.kit.stations import all_stations, station_named
from ruggedraft.live.snapshot import one_moment
from ruggedraft.live.together import asked_together
from ruggedraft.offloads.acts.acknowledge_pull import acknowledge_pull
from ruggedraft.offloads.acts.ask_feed import ask_feed
from ruggedraft.offloads.acts.ask_join import ask_join
from ruggedraft.offloads.acts.ask_onward import ask_onward
from ruggedraft.offloads.acts.order_offloads import order_offloads
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.onward import OnwardOf, onward_now
from ruggedraft.offloads.proposal import propose
from ruggedraft.offloads.queries import offload_of
from ruggedraft.offloads.queue import station_queue
from ruggedraft.offloads.rigs import rigs_of
from ruggedraft.productions.queries import production_named
from ruggedraft.rolls.queries import roll_of

from ..shapes import REFUSED, Done
from ..who import who
from .onward import OnwardIn, OnwardOut
from .shapes import (
    BringIn,
    ChoiceOut,
    JoinChaptersIn,
    NamesOut,
    OrderIn,
    ProposalOut,
    QueueOut,
    RigOut,
    StartIn,
    TakeIn,
)

router = Router(tags=["offloads"])


@router.post("/cards/{card_id}/offload", response={200: Done, **REFUSED})
def offload(request: HttpRequest, production: Path[str], card_id: int, given: StartIn) -> Done:
    card = card_of(production_named(production), card_id)
    wanted = given.take.as_take() if given.take else EVERYTHING
    start_offload(
        who(request), card, given.tag, wanted, uneven=given.uneven, notes=given.notes, twice=given.twice,
        to=given.take.to if given.take else None,
    )  # fmt: skip
    return Done()


@router.post("/cards/{card_id}/choice", response={200: ChoiceOut, **REFUSED})
def choice(request: HttpRequest, production: Path[str], card_id: int, given: TakeIn) -> ChoiceOut:
    """What an offload of this much of a card would do, and the names its files would get."""
    card = card_of(production_named(production), card_id)
    made = propose(card, given.as_take(), given.to)
    return ChoiceOut(proposal=ProposalOut.of(made), names=NamesOut.of(made.choice, mended=made.offer.naming.mend))


@router.post("/cards/{card_id}/join", response={200: Done, **REFUSED})
def join(request: HttpRequest, production: Path[str], card_id: int, given: JoinChaptersIn) -> Done:
    ask_join(who(request), card_of(production_named(production), card_id), given.path)
    return Done()


@router.post("/offloads/{offload_id}/acknowledge", response={200: Done, **REFUSED})
def acknowledge(request: HttpRequest, production: Path[str], offload_id: int) -> Done:
    """Of a card that was taken out in the middle: somebody knows."""
    acknowledge_pull(who(request), offload_of(production_named(production), offload_id))
    return Done()


@router.post("/rolls/{roll_id}/bring", response={200: Done, **REFUSED})
def bring(request: HttpRequest, production: Path[str], roll_id: int, given: BringIn) -> Done:
    """Bring a roll from a verified copy to a store that lacks it, or some of it."""
    ask_feed(who(request), roll_of(production_named(production), roll_id), given.store)
    return Done()


@router.get("/onward", response={200: OnwardOut, **REFUSED})
@one_moment()
def would_be_brought(
    request: HttpRequest, production: Path[str], of: OnwardOf, store: str, which: str = ""
) -> OnwardOut:
    """What would be brought to a store from verified copies, and what stays and why."""
    return OnwardOut.of(onward_now(production_named(production), of, which, store))


@router.post("/onward", response={200: OnwardOut, **REFUSED})
def bring_onward(request: HttpRequest, production: Path[str], given: OnwardIn) -> OnwardOut:
    """Have it done: each roll by a run of its own."""
    return OnwardOut.of(ask_onward(who(request), production_named(production), given.of, given.which, given.store))


@router.get("/queue", response=list[QueueOut])
@asked_together
@one_moment()
def queue(request: HttpRequest, production: Path[str]) -> list[QueueOut]:
    here = production_named(production).pk
    return [QueueOut.of(station_queue(station), here) for station in all_stations()]


@router.put("/queue/{station}", response={200: Done, **REFUSED})
def reorder(request: HttpRequest, production: Path[str], station: str, given: OrderIn) -> Done:
    order_offloads(who(request), station_named(station), given.ids)
    return Done()


@router.get("/rigs", response=list[RigOut])
@asked_together
@one_moment()
def rigs(request: HttpRequest, production: Path[str]) -> list[RigOut]:
    """Every rig of the production of which at least one card is in a reader."""
    return [RigOut.of(rig) for rig in rigs_of(production_named(production)) if rig.cards]
