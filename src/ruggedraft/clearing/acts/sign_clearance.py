import hashlib
import json
from dataclasses import dataclass
from datetime import timedelta
from enum import StrEnum

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import CardStanding, signing_blocks
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
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.tasks import ask_look
from ruggedraft.stores.queries import station_that_sees, stores

from ..card_rows import LastListing
from ..cases import Case, case, with_signature
from ..models import Clearance, Signature, SigningAsked
from ..said import SignatureRow

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


@transaction.atomic
def sign_clearance(person: Person, card: Card, *, tag: str, digest: str) -> Signed:
    """Sign that a card may be reused; the last signature the rule asks for clears it.

    A signature rests on a look: the card in its reader and every counting copy on a connected store are looked at from
    the moment somebody asks to sign. Until that is done nothing is signed, and this is to be called again. Then
    everything is judged again here, in the transaction that records it, with everyone who could change the facts locked
    out.

    tag: the roll's tag as the person typed it. digest: of the case they were shown.
    Raises ActRefused with every reason against it.
    """
    require(person, May.SIGN)
    hold_still(card.owner.production_id)
    judged = case(card)
    roll = _refuse(judged, tag, digest)
    if any(signature.person == person.pk for signature in judged.signatures):
        raise ActRefused(f"You have signed for {roll.tag} already; somebody else must sign too.")
    asked = _asked(person, judged)
    waiting = signing_blocks(judged.facts, judged.rule, judged.moment, since=asked.at)
    if waiting:
        return Signed(Signing.LOOKING, waiting_for=tuple(block.sentence for block in waiting))
    return _sign(person, judged, asked, roll)


def _sign(person: Person, judged: Case, asked: SigningAsked, roll: Roll) -> Signed:
    asked.decided_at = now()
    asked.save(update_fields=["decided_at"])
    signature = Signature.objects.create(roll=roll, person=person, digest=judged.digest, at=now())
    write(
        "sign",
        roll.tag,
        f"Signed that card {judged.card.label} ({roll.tag}) may be reused.",
        person=person,
        production=roll.production_id,
    )
    mine = SignatureRow(roll.pk, person.pk, person.username, person.shown_name, signature.at, signature.digest)
    judged = with_signature(judged, mine)
    tags = [one.roll.tag for one in judged.rolls]
    changed(Topic.CARDS, Topic.ROLLS, cards=[judged.card.label], rolls=tags)
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


def _refuse(judged: Case, tag: str, digest: str) -> Roll:
    """Every reason against signing now; the roll that is signed for, if there is none. Raises ActRefused."""
    label, standing = judged.card.label, judged.standing
    if standing is CardStanding.CLEARED:
        raise ActRefused(f"Card {label} is cleared already.")
    if standing is CardStanding.OUT:
        raise ActRefused(f"Card {label} was handed back; put it into a reader, so that it is known what is on it.")
    if judged.roll is None or judged.listing is None:
        raise ActRefused(f"Card {label} has nothing that could be cleared.")
    if tag.strip().upper() != judged.roll.roll.tag.upper():
        raise ActRefused(
            f"You typed '{tag}', but what is on card {label} is {judged.roll.roll.tag}. Nothing was signed."
        )
    if standing is CardStanding.RUNNING:
        raise ActRefused(f"Card {label} is being offloaded.")
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
    evidence = _evidence(judged, judged.listing)
    clearance = Clearance.objects.create(
        card=judged.card, roll=roll, listing_id=judged.listing.id, at=now(), evidence=evidence
    )
    clearance.rolls.set(standing.roll for standing in judged.rolls)
    write("clear", roll.tag, f"Card {judged.card.label} ({roll.tag}) is cleared for reuse.", person=person,
          detail={"clearance": clearance.pk}, production=roll.production_id)  # fmt: skip
    return clearance


def _evidence(judged: Case, listing: LastListing) -> dict[str, object]:
    rule = judged.card.owner.production.rule
    return {
        "rule": {
            field.name: getattr(rule, field.name)
            for field in rule._meta.fields
            if field.name not in ("id", "production")
        },
        "rolls": [_roll_evidence(standing) for standing in judged.rolls],
        "listing": {
            "digest": listing.digest, "began_at": listing.began_at.isoformat(),
            "confirmed_at": listing.confirmed_at and listing.confirmed_at.isoformat(),
        },
        "digest": judged.digest,
        "waivers": [{"path": w.file.path, "reason": w.reason, "by": w.by} for w in judged.facts.waivers],
        "signatures": [
            {"by": one.username, "name": one.by, "at": one.at.isoformat()} for one in judged.signatures
        ],
    }  # fmt: skip


def _roll_evidence(standing: RollStanding) -> dict[str, object]:
    files = standing.roll.files.order_by("path").values_list("path", "size", "modified_ns", "checksum", "fingerprint")
    rows = list(files)
    return {
        "roll": standing.roll.tag,
        "algorithm": standing.roll.algorithm,
        "files": {
            "count": len(rows), "bytes": sum(row[1] for row in rows),
            "sha256_of_list": hashlib.sha256(json.dumps(rows).encode()).hexdigest(),
        },
        "waived": standing.facts.waived,
        "left_behind": standing.facts.left,
        "copies": [
            {
                "store": one.facts.store.name,
                "devices": sorted(one.facts.store.devices),
                "location": one.facts.store.location,
                "folder": one.folder,
                "level": one.facts.level.words,
                "read_at": one.facts.read_at and one.facts.read_at.isoformat(),
                "looked_at": one.facts.looked_at and one.facts.looked_at.isoformat(),
                "readings": list(one.copy.readings.values_list("pk", flat=True)),
                "missing_files": one.facts.missing_files,
            }
            for one in standing.copies
        ],
    }  # fmt: skip
