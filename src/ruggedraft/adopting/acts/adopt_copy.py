from django.db import transaction

from ruggedraft.checks.acts.ask_check import ask_check
from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.runs.models import Run
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import productions_of

from ..queries import FoundRoll, found_on


@transaction.atomic
def adopt_copy(person: Person, store: Store, roll: Roll, folder: str) -> None:
    """Take a folder that was found on a store for a copy of a roll, or follow a copy of ours that was moved there.

    It counts for nothing by that: all of it is read now, and what agrees with what was read off the card counts.
    folder: in the ledger's form, as the last search of the store found it. Raises ActRefused.
    """
    require(person, May.OFFLOAD, roll.production_id)
    if roll.production_id not in productions_of(store):
        raise ActRefused(f"'{store.name}' is no store of {roll.production.name}: have it used there first.")
    hold_still(roll.production_id)
    found = next(
        (one for one in found_on(store, roll.production_id) if (one.roll.pk, one.folder) == (roll.pk, folder)), None
    )
    if found is None:
        raise ActRefused(f"{roll.tag} was not found in '{folder}' on '{store.name}': have the store looked through.")
    copy, sentence = _moved(found, store) if found.copy else _new(found, store)
    write("adopt copy", roll.tag, sentence, person=person, production=roll.production_id)
    changed(Topic.ROLLS, Topic.CARDS, Topic.STORES, rolls=[roll.tag], production=roll.production_id)
    ask_check(person, copy, first=True)


def _new(found: FoundRoll, store: Store) -> tuple[Copy, str]:
    copy, _ = Copy.every.update_or_create(
        roll=found.roll, store=store,
        defaults={"folder": found.folder, "left_at": None, "emptied_at": None, "thinned_at": None},
    )  # fmt: skip
    return copy, f"{found.roll.tag} was found in '{found.folder}' on '{store.name}': it is to be read, and counts then."


def _moved(found: FoundRoll, store: Store) -> tuple[Copy, str]:
    """Only where nothing is left in the place that the ledger knows. Raises ActRefused."""
    roll = found.roll
    copy = Copy.objects.select_for_update(no_key=True).get(roll=roll, store=store)
    if copy.folder == found.folder:
        raise ActRefused(f"{roll.tag} on '{store.name}' is in '{copy.folder}', as the ledger knows it.")
    (standing,) = roll_standings([roll.pk], in_full=True).values()
    facts = next(one.facts for one in standing.copies if one.id == copy.pk)
    if facts.files:
        raise ActRefused(
            f"{roll.tag} is known to be in '{copy.folder}' on '{store.name}' as well, and two copies on one store "
            f"count once. If it is not there any more, wait until the station has looked again."
        )
    if Run.objects.filter(roll=roll, finished_at=None).exists():
        raise ActRefused(f"Something is being done with {roll.tag}: wait for that.")
    before, copy.folder, copy.thinned_at = copy.folder, found.folder, None
    copy.save(update_fields=["folder", "thinned_at"])
    return copy, (
        f"{roll.tag} on '{store.name}' was moved from '{before}' to '{found.folder}': it is to be read there, and "
        f"counts then."
    )
