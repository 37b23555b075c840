from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.onward import Going, Onward, Staying
from ruggedraft.core.wording import counted
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll

from ..onward import OnwardOf, onward_now
from .ask_feed import ask_feed


def ask_onward(person: Person, production: Production, of: OnwardOf, which: str, store: str) -> Onward:
    """Have many rolls brought to a store, each by a run of its own, from verified copies. Cards are not needed.

    What cannot be brought stays, with its reason; the others go all the same. Raises ActRefused where nothing goes.
    """
    require(person, May.OFFLOAD, production.pk)
    meant = onward_now(production, of, which, store)
    going, staying = list[Going](), list(meant.staying)
    rolls = {roll.tag: roll for roll in Roll.objects.filter(production=production)}
    for one in meant.going:
        try:
            ask_feed(person, rolls[one.tag], store)
        except ActRefused as error:
            staying.append(Staying(one.tag, error.sentence.rstrip(".")))
        else:
            going.append(one)
    if not going:
        first = f" {staying[0].tag}: {staying[0].reason}." if staying else ""
        raise ActRefused(f"There is nothing to be brought to '{store}'.{first}")
    done = Onward(tuple(going), tuple(staying))
    sentence = f"{counted(len(done.going), 'roll is', 'rolls are')} to be brought to '{store}': {_what(of, which)}."
    with transaction.atomic():
        write("ask onward", store, sentence, person=person, production=production.pk)
    return done


def _what(of: OnwardOf, which: str) -> str:
    return {
        OnwardOf.EVERYTHING: "everything that it lacks",
        OnwardOf.NO_OFFSITE: "what has no copy off-site",
        OnwardOf.DAY: f"what was shot on {which}",
        OnwardOf.STORE: f"what is on '{which}'",
    }[of]
