from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card, CardListing
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still

from ..cases import Case, case
from ..models import Clearance, Revocation
from ..refusals import noted_when_refused


@noted_when_refused("revoke a clearance")
@transaction.atomic
def revoke_clearance(person: Person, card: Card, reason: str) -> Revocation:
    """Take a card's last clearance back. Where the card has gone out, the ledger says whom to call.

    Signatures that were given until then stand no more.
    """
    require(person, May.REVOKE, card.owner.production_id)
    hold_still(card.owner.production_id)
    judged = case(card)
    if not reason.strip():
        raise ActRefused("Say why the clearance is revoked: somebody may have to be called for it.")
    if judged.clearance is None:
        raise ActRefused(f"Card {card.label} was never cleared: there is nothing to revoke.")
    if judged.clearance.revocation is not None:
        raise ActRefused(f"The clearance of card {card.label} was revoked already.")
    if judged.facts.in_reader and not judged.facts.files:
        raise ActRefused(f"Card {card.label} was formatted since: its clearance cannot be taken back any more.")
    out = judged.clearance.handed_back_at is not None and not judged.facts.in_reader
    clearance = Clearance.objects.get(pk=judged.clearance.id)
    revoked = Revocation.objects.create(
        clearance=clearance, person=person, at=now(), reason=reason.strip()[:300], out=out,
        listing_id=_last_listing(judged),
    )  # fmt: skip
    who = judged.clearance.handed_to or "whoever has it"
    more = f" It has gone out: call {who}." if out else ""
    write("revoke clearance", card.label, f"The clearance of card {card.label} is revoked: {revoked.reason}.{more}",
          person=person, production=card.owner.production_id, detail={"clearance": clearance.pk})  # fmt: skip
    tags = [one.roll.tag for one in judged.rolls]
    changed(Topic.CARDS, Topic.ROLLS, cards=[card.label], rolls=tags, production=card.owner.production_id)
    return revoked


def _last_listing(judged: Case) -> int:
    """Of a card that was cleared there is one. Raises ActRefused."""
    last = CardListing.objects.filter(card=judged.card).order_by("-pk").values_list("pk", flat=True).first()
    if last is None:
        raise ActRefused(f"Card {judged.card.label} was never read here.")
    return last
