import hashlib
import json

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Production

from ..cases import Case, Standing, active_cards, case
from ..models import Clearance, Signature


@transaction.atomic
def sign_clearance(person: Person, card: Card, *, tag: str, digest: str) -> Clearance | None:
    """Sign that a card may be reused; the last signature the rule asks for clears it.

    Everything is judged again here, in the transaction that records it, with everyone who could change the facts
    locked out.

    tag: the roll's tag as the person typed it. digest: of the listing they were shown.
    Returns the clearance, or None while more people must sign. Raises ActRefused with every reason against it.
    """
    require(person, May.SIGN)
    Production.objects.select_for_update().get(pk=card.camera.production_id)
    judged = case(active_cards().get(pk=card.pk))
    _refuse(judged, tag, digest)
    _, new = Signature.objects.get_or_create(
        roll=judged.roll.roll, person=person, digest=digest, defaults={"at": now()}
    )
    if not new and judged.missing_signatures:
        raise ActRefused(f"You have signed for {judged.roll.roll.tag} already; somebody else must sign too.")
    write("sign", judged.roll.roll.tag, f"Signed that card {card.label} ({tag}) may be reused.", person=person)
    judged = case(active_cards().get(pk=card.pk))
    changed("cards", "rolls")
    return None if judged.missing_signatures else _clear(judged, person)


def _refuse(judged: Case, tag: str, digest: str) -> None:
    label = judged.card.label
    if judged.standing is Standing.CLEARED:
        raise ActRefused(f"Card {label} is cleared already.")
    if judged.roll is None or judged.listing is None:
        raise ActRefused(f"Card {label} has nothing that could be cleared.")
    if tag.strip().upper() != judged.roll.roll.tag.upper():
        raise ActRefused(
            f"You typed '{tag}', but what is on card {label} is {judged.roll.roll.tag}. Nothing was signed."
        )
    if digest != judged.listing.digest:
        raise ActRefused(f"Card {label} was read again and holds something else now. Look again before you sign.")
    if judged.standing is Standing.RUNNING:
        raise ActRefused(f"Card {label} is being offloaded.")
    if judged.blocks:
        reasons = "; ".join(block.sentence for block in judged.blocks)
        raise ActRefused(f"Not clear: {reasons}.")


def _clear(judged: Case, person: Person) -> Clearance:
    clearance = Clearance.objects.create(
        card=judged.card, roll=judged.roll.roll, listing=judged.listing, at=now(), evidence=_evidence(judged)
    )
    tag = judged.roll.roll.tag
    write("clear", tag, f"Card {judged.card.label} ({tag}) is cleared for reuse.", person=person,
          detail={"clearance": clearance.pk})  # fmt: skip
    return clearance


def _evidence(judged: Case) -> dict[str, object]:
    rule = judged.card.camera.production.rule
    files = judged.roll.roll.files.order_by("path").values_list("path", "size", "modified_ns", "algorithm", "checksum")
    rows = [list(row) for row in files]
    return {
        "rule": {
            field.name: getattr(rule, field.name)
            for field in rule._meta.fields
            if field.name not in ("id", "production")
        },
        "copies": [
            {
                "store": standing.facts.store.name,
                "device": standing.facts.store.device,
                "location": standing.facts.store.location,
                "folder": standing.copy.folder,
                "level": standing.facts.level.words,
                "verified_at": standing.facts.verified_at and standing.facts.verified_at.isoformat(),
                "check": standing.last_check and standing.last_check.pk,
                "missing_files": standing.facts.missing_files,
            }
            for standing in judged.roll.copies
        ],
        "files": {
            "count": len(rows),
            "bytes": sum(row[1] for row in rows),
            "sha256_of_list": hashlib.sha256(json.dumps(rows).encode()).hexdigest(),
        },
        "listing": {"digest": judged.listing.digest, "read_at": judged.listing.read_at.isoformat()},
        "waivers": [{"path": w.file.path, "reason": w.reason, "by": w.by} for w in judged.facts.waivers],
        "signatures": [{"by": s.person.username, "at": s.at.isoformat()} for s in judged.signatures],
    }
