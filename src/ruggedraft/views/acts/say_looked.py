from collections.abc import Mapping

from django.db import transaction

from ruggedraft.core.redundancy import RollState
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Production

from ..models import LastLook
from ..queries import Acts, known_by, last_acts, states_now


@transaction.atomic
def say_looked(person: Person, production: Production, seen: Mapping[str, RollState], until: Acts) -> None:
    """Say what one has seen, for oneself alone: what happened since that was shown is told of later.

    seen: by the roll's tag, how it was shown to stand. until: what of cards was shown
    Whoever never looked knows everything as it is now.
    """
    require(person, May.SEE_STATE, production.pk)
    last = last_acts(production)
    look = LastLook.objects.select_for_update(no_key=True).filter(person=person, production=production).first()
    if look is None:
        states = states_now(production)
        LastLook.objects.create(
            person=person, production=production, at=now(), states=states,
            clearances=last.clearance, revocations=last.revocation,
        )  # fmt: skip
        return
    ids = dict(production.rolls.filter(tag__in=seen).values_list("tag", "pk"))
    look.states = known_by(look) | {pk: seen[tag] for tag, pk in ids.items()}
    look.at = now()
    look.clearances = max(look.clearances, min(until.clearance, last.clearance))
    look.revocations = max(look.revocations, min(until.revocation, last.revocation))
    look.save()
