"""What a store is called, what is done with it, and taking it out of service."""

from collections.abc import Iterator

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.stores import StoreKind
from ruggedraft.core.wording import one_line
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write_in_each
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_all_still
from ruggedraft.productions.models import Plan
from ruggedraft.runs.models import Run
from ruggedraft.stores.acts.introduce_store import checked_name
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import productions_of


@transaction.atomic
def change_store(person: Person, store: Store, *, name: str, landing: bool, seals: bool) -> None:
    """Call a store something else, or say what is done with what lies there. Raises ActRefused.

    landing: it is a place that cards empty into; nothing there counts. seals: what is verified there is made read-only
    """
    require(person, May.KEEP_STORES, *productions_of(store))
    hold_all_still()
    store = Store.objects.select_for_update(no_key=True).get(pk=store.pk)
    said = [*_renamed(store, one_line(name)), *_landing(store, on=landing), *_sealing(store, on=seals)]
    if not said:
        return
    store.save(update_fields=["name", "landing", "seals"])
    write_in_each(
        productions_of(store),
        "change store",
        store.name,
        f"{'; '.join(said)}, says {person.shown_name}.",
        person=person,
    )
    changed(Topic.STORES, Topic.ROLLS, Topic.CARDS, Topic.SETUP)


def _renamed(store: Store, name: str) -> Iterator[str]:
    """Raises ActRefused."""
    before = store.name
    if name != before:
        store.name = checked_name(name)
        yield f"'{before}' is called '{store.name}' now"


def _landing(store: Store, *, on: bool) -> Iterator[str]:
    """Raises ActRefused."""
    if on == store.landing:
        return
    if on and store.kind == StoreKind.PACKAGES:
        raise ActRefused(f"'{store.name}' keeps sealed packages, which nothing is ever taken out of.")
    if on and store.kind not in (StoreKind.FOLDER, StoreKind.SFTP):
        raise ActRefused(f"'{store.name}' keeps no times, so that nothing could be taken away there safely.")
    store.landing = on
    what = "a landing area now: no copy there counts" if on else "no landing area any more"
    yield f"'{store.name}' is {what}"


def _sealing(store: Store, *, on: bool) -> Iterator[str]:
    """Raises ActRefused."""
    if on == store.seals:
        return
    if on and store.kind not in (StoreKind.FOLDER, StoreKind.OBJECTS, StoreKind.PACKAGES):
        raise ActRefused(f"What is on the server of '{store.name}' cannot be made read-only from here.")
    store.seals = on
    yield f"what is verified on '{store.name}' is {'' if on else 'not '}made read-only from now on"


@transaction.atomic
def retire_store(person: Person, store: Store, reason: str) -> None:
    """Take a store out of service: nothing goes there any more, and nothing there counts. Raises ActRefused."""
    require(person, May.KEEP_STORES, *productions_of(store))
    hold_all_still()
    store = Store.objects.select_for_update(no_key=True).get(pk=store.pk)
    reason = one_line(reason)
    if not reason:
        raise ActRefused("Say why it goes out of service, so that somebody knows what it is good for.")
    if store.retired_at:
        raise ActRefused(f"'{store.name}' is out of service already.")
    if Run.objects.filter(roll__copies__store=store, finished_at=None).exists():
        raise ActRefused(f"Something is being done with rolls on '{store.name}': wait for that, or stop it.")
    plans = list(Plan.objects.filter(stores=store).select_related("production").order_by("pk"))
    for plan in plans:
        plan.stores.remove(store)
    store.retired_at = now()
    store.save(update_fields=["retired_at"])
    named = ", ".join(f"'{plan.name}' of {plan.production.name}" for plan in plans)
    gone = f" It was taken off the plan {named}." if plans else ""
    write_in_each(
        productions_of(store),
        "retire store",
        store.name,
        f"'{store.name}' is out of service, and nothing there counts: {reason}.{gone}",
        person=person,
    )
    changed(Topic.STORES, Topic.ROLLS, Topic.CARDS, Topic.SETUP)


@transaction.atomic
def use_store_again(person: Person, store: Store) -> None:
    """Take a store into service again: what it is known to hold counts as before. Raises ActRefused."""
    require(person, May.KEEP_STORES, *productions_of(store))
    hold_all_still()
    store = Store.objects.select_for_update(no_key=True).get(pk=store.pk)
    if store.retired_at is None:
        raise ActRefused(f"'{store.name}' is in service.")
    store.retired_at = None
    store.save(update_fields=["retired_at"])
    write_in_each(
        productions_of(store),
        "use store again",
        store.name,
        f"'{store.name}' is in service again, says {person.shown_name}.",
        person=person,
    )
    changed(Topic.STORES, Topic.ROLLS, Topic.CARDS, Topic.SETUP)
