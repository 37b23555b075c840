from collections.abc import Sequence

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.proposing import Startable, everything
from ruggedraft.core.runs import RunKind
from ruggedraft.core.taking import EVERYTHING, Take
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.contents import listed_card
from ruggedraft.intake.models import Card, Insertion
from ruggedraft.intake.queries import present_insertion
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.acts.close_production import refuse_closed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.recording import record_take, want_copy
from ruggedraft.runs.queries import refuse_while_room_is_made
from ruggedraft.runs.queue import add_to_queue, is_open, of_card

from ..models import Offload
from ..proposal import Proposal, propose


@transaction.atomic
def start_offload(
    person: Person,
    card: Card,
    tag: str,
    wanted: Take = EVERYTHING,
    *,
    uneven: bool = False,
    notes: str = "",
    twice: bool = False,
    to: Sequence[str] | None = None,
) -> Offload:
    """Open the roll and put the run on the station's queue; all of it, or nothing.

    wanted: which of the card's files go; what stays behind is remembered on the roll
    uneven: said that the card may go although it does not fit the others of its rig
    notes: about the whole roll, for its sidecars where the plan writes them
    twice: read the card a second time, also where its plan does not ask for that
    to: names of the stores, where they are not the plan's nor those of the offload that this one goes on from
    tag: the roll tag the person was shown. If it has been taken meanwhile, nothing is started.
    Raises ActRefused with every reason against starting.
    """
    require(person, May.OFFLOAD, card.owner.production_id)
    if card.camera:
        refuse_closed(hold_still(card.camera.production_id))
    insertion = present_insertion(card)
    if insertion is None:
        raise ActRefused(f"Card {card.label} is in no reader: put it into one.")
    if is_open(of_card(RunKind.OFFLOAD, card.pk)):
        raise ActRefused(f"Card {card.label} is being offloaded already.")
    if is_open(of_card(RunKind.REMOVAL, card.pk)):
        raise ActRefused(f"Files are being taken off card {card.label}: wait until that has ended.")
    proposal = propose(card, wanted, to)
    if proposal.roll:
        refuse_while_room_is_made(proposal.roll)
    _refuse_if_anything_speaks_against(proposal, tag)
    if proposal.uneven and not uneven:
        raise ActRefused(f"{'. '.join(proposal.uneven)}. Leave it out, or say that it is to be taken anyway.")
    roll = _take(person, proposal, insertion.serial)
    offload = _run(proposal, roll, insertion)
    offload.person, offload.notes = person, notes.strip()[:2000]
    offload.twice = twice or proposal.plan.read_twice
    add_to_queue(offload)
    _write(person, proposal, roll, offload.station)
    changed(
        Topic.ROLLS, Topic.READERS, Topic.CARDS, rolls=[roll.tag], cards=[card.label], production=roll.production_id
    )
    return offload


def _take(person: Person, proposal: Proposal, fs_serial: str) -> Roll:
    """Make what is chosen content of the roll, and a copy wanted on each store."""
    offer = proposal.offer
    roll = proposal.roll or _open_roll(proposal, fs_serial)
    choice = offer.choice or everything(listed_card(proposal.listing).listing.files)
    record_take(roll, proposal.listing, person, choice.files, choice.left, choice.kept_as)
    for store in proposal.stores:
        want_copy(roll, store, offer.folder)
    return roll


def _run(proposal: Proposal, roll: Roll, stay: Insertion) -> Offload:
    offer = proposal.offer
    return Offload(
        subject=of_card(RunKind.OFFLOAD, proposal.card.pk), roll=roll, card=proposal.card,
        station=stay.reader.station, reader=stay.reader,
        algorithm=roll.algorithm, estimated_s=proposal.estimated_s, take=proposal.wanted.as_data(),
        naming=offer.naming.as_data() if offer.choice else {}, others=_others(proposal, roll),
        targets=[store.pk for store in proposal.stores], other_stores=proposal.to,
    )  # fmt: skip


def _write(person: Person, proposal: Proposal, roll: Roll, station: Station) -> None:
    names = ", ".join(f"'{store.name}'" for store in proposal.stores)
    sentence = f"Offload of card {proposal.card.label} as {roll.tag} to {names}: {proposal.wanted.words}."
    write("start offload", roll.tag, sentence, person=person, origin=station.name, production=roll.production_id)
    if proposal.uneven:
        odd = f"{roll.tag} is taken although it does not fit its rig: {'. '.join(proposal.uneven)}."
        write("take odd card", roll.tag, odd, person=person, origin=station.name, production=roll.production_id)


def _refuse_if_anything_speaks_against(proposal: Proposal, tag: str) -> None:
    if tag != proposal.tag:
        raise ActRefused(f"{tag} is not free any more; the next roll of this camera is {proposal.tag}. Look again.")
    if proposal.offer.startable is Startable.NOTHING_CHOSEN:
        raise ActRefused("Nothing on this card is chosen: there is nothing to offload.")
    if proposal.offer.startable in (Startable.ALL_HELD, Startable.CHOSEN_HELD):
        all_of_it = proposal.offer.startable is Startable.ALL_HELD
        what = "Every file on this card" if all_of_it else "Everything that is chosen"
        raise ActRefused(f"{what} is already in the copies of {proposal.tag} on every store it goes to.")
    if proposal.offer.refusals:
        raise ActRefused(" ".join(refusal.sentence for refusal in proposal.offer.refusals))


def _others(proposal: Proposal, roll: Roll) -> list[str]:
    """Further checksums. A roll is compared by its own algorithm, whatever its plan has said since."""
    wanted = dict.fromkeys([proposal.plan.algorithm, *proposal.plan.more_algorithms])
    return [name for name in wanted if name != roll.algorithm]


def _open_roll(proposal: Proposal, fs_serial: str) -> Roll:
    camera, offer = proposal.card.owner, proposal.offer
    return Roll.objects.create(
        production=camera.production, camera=camera, card=proposal.card, number=offer.number, tag=offer.tag,
        shoot_day=offer.shoot_day, opened_at=now(), algorithm=proposal.plan.algorithm, fs_serial=fs_serial,
    )  # fmt: skip
