"""What an offload of a card would do: the tag, the folder, what goes where, and what speaks against it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.naming import NamingPlan, roll_folder
from ruggedraft.core.proposing import Choice, Naming, Offer, make_offer, question
from ruggedraft.core.taking import EVERYTHING, Take
from ruggedraft.intake.models import Card, CardListing
from ruggedraft.productions.models import Plan
from ruggedraft.rolls.models import Roll
from ruggedraft.stores.models import Store

from .choosing import choose, plan_naming
from .rigs import rig_now, shots_of
from .situations import AtHand, Loaded, Numbers, shoot_day


@dataclass(frozen=True)
class Proposal:
    """An offer for a card, with the rows it is about.

    roll: the roll that goes on, None for a new one
    estimated_s: how long it will take, in seconds, None without a run to judge by
    uneven: what is odd about this card among those of its rig; starting anyway has to be said
    to: names of the stores, where they are not the plan's
    """

    card: Card
    listing: CardListing
    roll: Roll | None
    stores: tuple[Store, ...]
    wanted: Take
    offer: Offer
    estimated_s: float | None
    uneven: tuple[str, ...]
    to: list[str] | None

    @property
    def tag(self) -> str:
        return self.offer.tag

    @property
    def plan(self) -> Plan:
        return self.card.owner.plan

    @property
    def choice(self) -> Choice:
        """Every file that would go, also where that is all of them. Raises PlanError."""
        offer = self.offer
        return offer.choice or choose(self.listing, self.wanted, offer.naming, self.roll, self.stores)


def propose(card: Card, wanted: Take = EVERYTHING, to: Sequence[str] | None = None) -> Proposal:
    """Raises ActRefused with the question that has to be settled first.

    to: names of the stores, where they are neither the plan's nor those of the offload that this one goes on from
    """
    made = propose_all([card], wanted, to)[card.pk]
    if isinstance(made, ActRefused):
        raise made
    return made


def propose_all(
    cards: Sequence[Card],
    wanted: Take = EVERYTHING,
    to: Sequence[str] | None = None,
    at_hand: AtHand | None = None,
) -> dict[int, Proposal | ActRefused]:
    """What an offload of each card would do, or what has to be settled first; by the card's id."""
    loaded = Loaded(cards, to, at_hand)
    return {card.pk: _proposal_or_question(card, wanted, loaded) for card in cards}


def _proposal_or_question(card: Card, wanted: Take, loaded: Loaded) -> Proposal | ActRefused:
    situation, listing = loaded.situation(card), loaded.listings.get(card.pk)
    unsettled = question(card.label, situation)
    if unsettled or situation is None or listing is None:
        return ActRefused(unsettled)
    stores, roll = loaded.stores(card), loaded.last.get(card.pk)
    try:
        offer = make_offer(situation, wanted, lambda naming: choose(listing, wanted, naming, roll, stores))
    except ActRefused as error:
        return error
    stay = loaded.stays.get(card.pk)
    seconds = loaded.rates.seconds(stay.reader if stay else None, stores, offer.going_bytes, offer.going_files)
    return Proposal(
        card, listing, roll, tuple(stores), wanted, offer, seconds, _uneven(card, offer.choice, loaded),
        loaded.named(card),
    )  # fmt: skip


def _uneven(card: Card, choice: Choice | None, loaded: Loaded) -> tuple[str, ...]:
    rig = loaded.rigs.get(card.owner.pk)
    going = None if choice is None else [entry.path for entry in choice.files]
    return tuple(odd.sentence for odd in rig_now(rig).odd_of(card.owner.letter, going)) if rig else ()


def example_naming(
    listing: CardListing, plan: Plan, naming: NamingPlan, *, mend: bool, words: Mapping[str, str]
) -> tuple[str, Naming]:
    """The folder and the naming that a changed plan would give a card's next roll, as an example.

    words: the changed plan's job, fleet and text. Raises PlanError, and ActRefused for a card that nobody knows
    """
    if listing.card is None:
        raise ActRefused("Which card this is has not been settled yet.")
    camera = listing.card.owner
    _, tag = Numbers([camera.production_id]).of(camera, plan).next()
    shots = shots_of(listing) if "{shot" in naming.names else {}
    made = plan_naming(plan, camera, listing.card.label, shots).of_roll(tag, shoot_day(listing, camera))
    values = made.values | {name: str(words[name]) for name in ("job", "fleet", "text")}
    return roll_folder(naming, values), Naming(naming, values, mend, shots)
