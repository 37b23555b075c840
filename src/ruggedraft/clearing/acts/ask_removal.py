from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import rule_on_card, signatures_missing, signing_blocks
from ruggedraft.core.runs import RunKind
from ruggedraft.core.wording import counted
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.models import Roll
from ruggedraft.runs.queue import add_to_queue, is_open, of_card

from ..cases import Case, case
from ..models import Removal, RemovalAsked
from ..queries import wishes_of
from ..refusals import noted_when_refused
from ..removable import removable


@noted_when_refused("have files taken off")
@transaction.atomic
def ask_removal(person: Person, card: Card, *, tag: str, count: int, digest: str) -> Removal | None:
    """Have the files of a card that are safe elsewhere taken off it, one by one, each compared with a copy.

    Formatting in the camera stays the better way: this is for cards that other people's files are on.
    tag: of the roll, as the person typed it. count, digest: how many files they were shown, of which case
    Returns None where the rule asks for two people and this is the first.
    """
    require(person, May.REMOVE, card.owner.production_id)
    production = card.owner.production
    hold_still(production.pk)
    judged = case(card)
    if not production.removal_allowed:
        raise ActRefused(f"{production.name} does not allow files to be removed here: format the card in its camera.")
    _refuse(judged, tag, count, digest)
    others = [one.person for one in wishes_of(judged).exclude(person=person)]
    names = [person.username, *(one.username for one in others)]
    if signatures_missing(rule_on_card(judged.facts, judged.rule), names, judged.facts.ran):
        RemovalAsked.objects.create(card=card, person=person, at=now(), digest=digest)
        write("ask removal", card.label, f"Wanted {counted(count, 'file')} taken off card {card.label}; a second "
              "person has to want it too.", person=person, production=production.pk)  # fmt: skip
        changed(Topic.CARDS, cards=[card.label], production=card.owner.production_id)
        return None
    return _start(person, others[-1] if others else None, judged, count)


def _refuse(judged: Case, tag: str, count: int, digest: str) -> None:
    label = judged.card.label
    if judged.stay is None or judged.listing is None or judged.roll is None:
        raise ActRefused(f"Card {label} is in no reader here: nothing can be taken off it.")
    if Station.objects.exclude(role="").filter(pk=judged.stay.station).exists():
        raise ActRefused(f"Card {label} is in a reader of another machine: put it into one of this server's.")
    if is_open(of_card(RunKind.REMOVAL, judged.card.pk)):
        raise ActRefused(f"Files are being taken off card {label} already.")
    _refuse_what_was_not_shown(judged, judged.roll.roll, tag, count, digest)
    waiting = signing_blocks(judged.facts, judged.rule, judged.moment)
    if waiting:
        reasons = "; ".join(block.sentence for block in waiting)
        raise ActRefused(f"Look at the copies first: {reasons}. Nothing was done.")


def _refuse_what_was_not_shown(judged: Case, roll: Roll, tag: str, count: int, digest: str) -> None:
    label = judged.card.label
    if tag.strip().upper() != roll.tag.upper():
        raise ActRefused(f"You typed '{tag}', but what is on card {label} is {roll.tag}. Nothing was done.")
    if digest != judged.digest or count != len(removable(judged)):
        raise ActRefused(f"Card {label} or its copies are not as you were shown: look again. Nothing was done.")
    if not count:
        raise ActRefused(f"No file of card {label} is safe enough elsewhere to be taken off it.")


def _start(person: Person, second: Person | None, judged: Case, count: int) -> Removal:
    if judged.stay is None or judged.listing is None or judged.roll is None:
        raise LookupError("nothing is removed from a card that is nowhere")
    card, roll = judged.card, judged.roll.roll
    removal = Removal(
        subject=of_card(RunKind.REMOVAL, card.pk), roll=roll, station=Station.objects.get(pk=judged.stay.station),
        person=person, card=card, listing_id=judged.listing.id, second=second,
    )  # fmt: skip
    add_to_queue(removal)
    RemovalAsked.objects.filter(card=card, removal=None).update(removal=removal)
    with_whom = f", with {second.shown_name}" if second else ""
    words = f"{counted(count, 'file')} of card {card.label} are to be taken off it{with_whom}; each is compared first."
    write("start removal", card.label, words, person=person, production=roll.production_id)
    changed(Topic.CARDS, Topic.READERS, cards=[card.label], production=card.owner.production_id)
    return removal
