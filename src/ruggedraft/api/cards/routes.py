"""Cards: every card, where it is, who has it, how it has behaved."""

from typing import TYPE_CHECKING

from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router

from ruggedraft.clearing.acts.ask_removal import ask_removal
from ruggedraft.clearing.acts.pass_card import pass_card
from ruggedraft.clearing.card_list import card_lines, events_of, page_of_all_cards, rolls_of, runs_of
from ruggedraft.clearing.cases import Case, active_cards, cases
from ruggedraft.clearing.queries import removals_of
from ruggedraft.clearing.removable import removable_in_all
from ruggedraft.clearing.where import where_is
from ruggedraft.core.redundancy import CardLife, if_card_is_lost
from ruggedraft.crew.queries import member_called
from ruggedraft.intake.queries import card_named
from ruggedraft.live.snapshot import one_moment
from ruggedraft.productions.queries import production_named
from ruggedraft.rolls.summaries import places_of_all

from ..answers import written
from ..clearing.shapes import case_out
from ..journal.shapes import LogEntry
from ..shapes import REFUSED, Done
from ..who import who
from .shapes import (
    CardDetail,
    CardOut,
    CardsIn,
    CardsOut,
    FoundThingOut,
    HolderIn,
    IfLostOut,
    RemovableOut,
    RemovalIn,
    RollOfCard,
    RunOfCardOut,
)

if TYPE_CHECKING:
    from ruggedraft.productions.models import Production

router = Router(tags=["cards"])
where = Router(tags=["cards"])


@where.get("", response=list[FoundThingOut])
@one_moment()
def where_it_is(request: HttpRequest, production: Path[str], text: str = "") -> list[FoundThingOut]:
    """Cards, rolls and stores that somebody asks for by a few words, such as "where is card 14?"."""
    return [FoundThingOut.of(one) for one in where_is(production_named(production), text[:200])]


@router.get("", response=CardsOut)
@one_moment()
def every_card(request: HttpRequest, production: Path[str], sought: Query[CardsIn], after: str = "") -> HttpResponse:
    page = page_of_all_cards(production_named(production), places_of_all(), sought.as_sought(), after=after)
    counts = {life: page.counts.get(life, 0) for life in CardLife}
    cards = [CardOut.of(line) for line in page.cards]
    return written(CardsOut(cards=cards, after=page.after, counts=counts, in_all=page.in_all))


@router.put("/{path:label}/holder", response={200: Done, **REFUSED})
def given_to(request: HttpRequest, production: Path[str], label: str, given: HolderIn) -> Done:
    """Say who has a card now, or that it is back."""
    here = production_named(production)
    holder = member_called(given.username, here.pk) if given.username else None
    pass_card(who(request), card_named(here, label), holder, outside=given.outside, note=given.note)
    return Done()


@router.post("/{path:label}/removal", response={200: Done, **REFUSED})
def take_off(request: HttpRequest, production: Path[str], label: str, given: RemovalIn) -> Done:
    """Have the files of a card that are safe elsewhere taken off it, one by one, each compared with a copy."""
    ask_removal(who(request), card_named(production_named(production), label), **given.model_dump())
    return Done()


@router.get("/{path:label}", response=CardDetail)
@one_moment()
def one_card(request: HttpRequest, production: Path[str], label: str) -> HttpResponse:
    here, places = production_named(production), places_of_all()
    card = card_named(here, label)
    (line,) = card_lines(cases(active_cards().filter(pk=card.pk), places))
    return written(
        CardDetail(
            card=CardOut.of(line),
            case=case_out(line.case, places),
            removable=_removable(line.case, here),
            if_lost=_if_lost(line.case),
            rolls=[
                RollOfCard(
                    tag=one.standing.roll.tag,
                    shoot_day=one.standing.roll.shoot_day.isoformat(),
                    files=one.standing.facts.files,
                    bytes=one.standing.facts.bytes,
                    state=one.state,
                    cleared=one.cleared,
                )
                for one in rolls_of(card, here, places)
            ],
            runs=[RunOfCardOut.of(one) for one in runs_of(card)],
            events=[LogEntry.of(entry) for entry in events_of(card, here)],
        )
    )


def _if_lost(case: Case) -> IfLostOut:
    lost = if_card_is_lost(case.facts, case.rule, case.moment)
    return IfLostOut.of(lost, case.listing.began_at if case.listing else None)


def _removable(case: Case, here: "Production") -> RemovableOut:
    found, now = removable_in_all(case), removals_of(case)
    return RemovableOut(
        allowed=here.removal_allowed, files=found.count, bytes=found.bytes, paths=list(found.paths),
        under_way=now.under_way, waits_for_second=now.waits, last=now.last,
    )  # fmt: skip
