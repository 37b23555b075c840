from dataclasses import dataclass
from datetime import timedelta
from enum import StrEnum

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import CardStanding, HoldEnd, signing_blocks
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card
from ruggedraft.intake.tasks import read_card_now
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.kit.stations import looks_queue
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.tasks import ask_look
from ruggedraft.stores.queries import station_that_sees, stores

from ..cases import Case, case, with_signature
from ..evidence import evidence_of
from ..models import Clearance, Hold, Revocation, Signature, SigningAsked
from ..refusals import noted_when_refused
from ..said import SignatureRow
from .holds import end_hold

_ASKED_FOR = timedelta(minutes=2)
"""How long somebody's wish to sign stands while card and copies are being looked at."""


class Signing(StrEnum):
    LOOKING = "looking"
    """card and copies are being looked at; ask again"""
    SIGNED = "signed"
    """more people must sign"""
    CLEARED = "cleared"


@dataclass(frozen=True)
class Signed:
    """waiting_for: what is being looked at, in sentences."""

    state: Signing
    clearance: Clearance | None = None
    waiting_for: tuple[str, ...] = ()


@noted_when_refused("sign")
@transaction.atomic
def sign_clearance(person: Person, card: Card, *, tag: str, digest: str, session: str = "") -> Signed:
    """Sign that a card may be reused; the last signature the rule asks for clears it.

    A signature rests on a look: the card in its reader and every counting copy on a connected store are looked at from
    the moment somebody asks to sign. Until that is done nothing is signed, and this is to be called again. Then
    everything is judged again here, in the transaction that records it, with everyone who could change the facts locked
    out.

    tag: the roll's tag as the person typed it. digest: of the case they were shown.
    session: SHA-256 of the session in which they sign; two people do not sign in one
    Raises ActRefused with every reason against it.
    """
    require(person, May.SIGN, card.owner.production_id)
    hold_still(card.owner.production_id)
    judged = case(card)
    roll = _refuse(judged, tag, digest)
    if any(signature.person == person.pk for signature in judged.signatures):
        raise ActRefused(f"You have signed for {roll.tag} already; somebody else must sign too.")
    if session and any(signature.session == session for signature in judged.signatures):
        raise ActRefused("Somebody else has signed in this session: sign on a device or in a browser of your own.")
    asked = _asked(person, judged)
    waiting = signing_blocks(judged.facts, judged.rule, judged.moment, since=asked.at)
    if waiting:
        return Signed(Signing.LOOKING, waiting_for=tuple(block.sentence for block in waiting))
    return _sign(person, judged, asked, roll, session)


def _sign(person: Person, judged: Case, asked: SigningAsked, roll: Roll, session: str) -> Signed:
    asked.decided_at = now()
    asked.save(update_fields=["decided_at"])
    last = Revocation.objects.filter(clearance__roll=roll).order_by("-pk").first()
    signature = Signature.objects.create(
        roll=roll, person=person, digest=judged.digest, at=now(), session=session, revocation=last,
        seen=judged.seen.as_data() if judged.seen else {},
    )  # fmt: skip
    write(
        "sign",
        roll.tag,
        f"Signed that card {judged.card.label} ({roll.tag}) may be reused.",
        person=person,
        production=roll.production_id,
    )
    mine = SignatureRow(
        roll.pk, person.pk, person.username, person.shown_name, signature.at, signature.digest, session=session
    )
    judged = with_signature(judged, mine)
    tags = [one.roll.tag for one in judged.rolls]
    changed(Topic.CARDS, Topic.ROLLS, cards=[judged.card.label], rolls=tags, production=judged.card.owner.production_id)
    if judged.verdict.missing_signatures:
        return Signed(Signing.SIGNED)
    return Signed(Signing.CLEARED, _clear(judged, person, roll))


def _asked(person: Person, judged: Case) -> SigningAsked:
    """The wish that is being served, or a new one, for which everything is looked at."""
    asked = SigningAsked.objects.filter(
        person=person, card=judged.card, decided_at=None, at__gte=now() - _ASKED_FOR, at__lte=now()
    ).last()
    if asked:
        return asked
    look_at_all(judged)
    return SigningAsked.objects.create(person=person, card=judged.card, at=now())


def look_at_all(judged: Case) -> None:
    """Have card and copies looked at by the stations that can reach them."""
    if judged.stay:
        station = Station.objects.get(pk=judged.stay.station)
        read_card_now.configure(queue=looks_queue(station)).defer(insertion_id=judged.stay.id)
    places = {store.pk: store for store in stores()}
    for standing in judged.rolls:
        for one in standing.copies:
            seeing = station_that_sees(places[one.store.pk])
            if seeing and one.facts.store.online:
                ask_look(one.copy, seeing)


_NOT_NOW = {
    CardStanding.CLEARED: "is cleared already.",
    CardStanding.OUT: "was handed back; put it into a reader, so that it is known what is on it.",
    CardStanding.ASIDE: "is out of use: it goes to no camera. Nothing was signed.",
    CardStanding.RUNNING: "is being offloaded. Nothing was signed.",
    CardStanding.PACKAGE: "is a sealed package: it is no card, and nothing of it is cleared. Nothing was signed.",
    CardStanding.FINALS: "is a set of finals: it is no card, and nothing of it is cleared. Nothing was signed.",
}


def _refuse(judged: Case, tag: str, digest: str) -> Roll:
    """Every reason against signing now; the roll that is signed for, if there is none. Raises ActRefused."""
    label = judged.card.label
    why_not = _NOT_NOW.get(judged.standing)
    if why_not:
        raise ActRefused(f"Card {label} {why_not}")
    if judged.roll is None or judged.listing is None:
        raise ActRefused(f"Card {label} has nothing that could be cleared.")
    if tag.strip().upper() != judged.roll.roll.tag.upper():
        raise ActRefused(
            f"You typed '{tag}', but what is on card {label} is {judged.roll.roll.tag}. Nothing was signed."
        )
    if judged.verdict.blocks:
        reasons = "; ".join(block.sentence for block in judged.verdict.blocks)
        raise ActRefused(f"Not clear: {reasons}. Nothing was signed.")
    if digest != judged.digest:
        raise ActRefused(
            f"Card {label}, its copies or what was said of its files are not as you were shown any more. Look again "
            "before you sign. Nothing was signed."
        )
    return judged.roll.roll


def _clear(judged: Case, person: Person, roll: Roll) -> Clearance:
    if judged.listing is None:
        raise LookupError("nothing can be cleared by a listing that there is not")
    told = evidence_of(judged, judged.listing)
    clearance = Clearance.objects.create(
        card=judged.card, roll=roll, listing_id=judged.listing.id, at=now(), evidence=told.facts, files=told.files
    )
    clearance.rolls.set(standing.roll for standing in judged.rolls)
    _end_holds_that_waited(judged, person)
    write("clear", roll.tag, f"Card {judged.card.label} ({roll.tag}) is cleared for reuse.", person=person,
          detail={"clearance": clearance.pk}, production=roll.production_id)  # fmt: skip
    return clearance


def _end_holds_that_waited(judged: Case, person: Person) -> None:
    """Holds until a second signature have what they waited for. One on a camera goes on: more cards will come."""
    ended = [one.id for one in judged.holds if one.ends is HoldEnd.SECOND_SIGNATURE and one.camera is None]
    for hold in Hold.objects.filter(pk__in=ended):
        end_hold(hold, person, "it was signed for")
