"""What is done for copies while nobody watches: standing orders, reading again, mending."""

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router

from ruggedraft.kit.queries import place_known
from ruggedraft.live.snapshot import one_moment
from ruggedraft.productions.queries import production_named
from ruggedraft.rolls.summaries import places_in
from ruggedraft.stores.queries import store_in
from ruggedraft.upkeep.acts.give_order import give_order, withdraw_order
from ruggedraft.upkeep.acts.set_care import set_care
from ruggedraft.upkeep.orders import open_orders, order_standings
from ruggedraft.upkeep.queries import cares_of, read_lately

from ..answers import written
from ..shapes import REFUSED, Done
from ..who import who
from .shapes import CareIn, CareOut, StandingOrderIn, StandingOrderOut, UpkeepOut

router = Router(tags=["upkeep"])


@router.get("", response=UpkeepOut)
@one_moment()
def by_itself(request: HttpRequest, production: Path[str]) -> HttpResponse:
    """Orders with what they have still to bring, and why they do not; and what is done for the copies on each store."""
    here = production_named(production)
    places = places_in(here)
    cares = cares_of(places)
    lately = read_lately(cares, places)
    return written(
        UpkeepOut(
            orders=[StandingOrderOut.of(one) for one in order_standings(open_orders(here), places)],
            cares=[CareOut.of(store, cares.get(pk), lately[pk]) for pk, store in places.items()],
        )
    )


@router.post("/orders", response={200: Done, **REFUSED})
def order(request: HttpRequest, production: Path[str], given: StandingOrderIn) -> Done:
    here = production_named(production)
    give_order(
        who(request), here, store_in(here.pk, given.to), given.pacing(),
        from_store=store_in(here.pk, given.from_store) if given.from_store else None,
        from_place=place_known(given.from_place) if given.from_place else None,
    )  # fmt: skip
    return Done()


@router.delete("/orders/{order_id}", response={200: Done, **REFUSED})
def no_more(request: HttpRequest, production: Path[str], order_id: int) -> Done:
    withdraw_order(who(request), production_named(production), order_id)
    return Done()


@router.put("/stores/{name}", response={200: Done, **REFUSED})
def care(request: HttpRequest, production: Path[str], name: str, given: CareIn) -> Done:
    """Say whether its copies are read again and mended by themselves."""
    store = store_in(production_named(production).pk, name)
    set_care(who(request), store, given.pacing(), check_days=given.check_days, mends=given.mends)
    return Done()
