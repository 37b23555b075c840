from collections.abc import Sequence
from dataclasses import dataclass

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.manifests.mhl.hashes import HASHES
from ruggedraft.core.naming import NamingPlan, roll_tag
from ruggedraft.core.wording import is_name
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import lost_names

from ..models import Plan, Production


@dataclass(frozen=True)
class PlanWords:
    """A plan as somebody wrote it; stores by name."""

    name: str
    folder: str
    names: str
    start: int
    mend_names: bool
    roll_prefix: str
    roll_digits: int
    roll_start: int
    algorithm: str
    job: str
    fleet: str
    text: str
    sidecars: bool
    creator: str
    rights: str
    keywords: Sequence[str]
    stores: Sequence[str]
    more_algorithms: Sequence[str] = ()
    read_twice: bool = False
    release_after: bool = False
    decodes: bool = False
    mhl: bool = False
    after_program: str = ""

    def naming(self) -> NamingPlan:
        """Raises PlanError."""
        return NamingPlan(self.folder, self.names, self.start).checked()


@transaction.atomic
def save_plan(person: Person, production: Production, words: PlanWords, plan: Plan | None = None) -> Plan:
    """Change a plan, or write a new one. Rolls that are open keep the folders and names they have."""
    require(person, May.PLAN, production.pk)
    Production.objects.select_for_update(no_key=True).get(pk=production.pk)
    name = words.name.strip()
    others = Plan.objects.filter(production=production, name__iexact=name).exclude(pk=plan.pk if plan else 0)
    if not name or others.exists():
        raise ActRefused("A plan needs a name of its own.")
    _refuse(words)
    stores = _stores(words, plan, production)
    plan = plan or Plan(production=production)
    _write(plan, name, words)
    plan.save()
    plan.stores.set(stores)
    write(
        "save plan",
        name,
        f"Plan '{name}': {words.folder}, names {words.names or 'as on the card'}.",
        person=person,
        production=production.pk,
    )
    changed(Topic.SETUP, Topic.READERS)
    return plan


def _refuse(words: PlanWords) -> None:
    """Raises ActRefused, PlanError."""
    words.naming()
    if words.roll_start < 0 or words.start < 0:
        raise ActRefused("Numbers begin at 0 or more.")
    roll_tag(words.roll_prefix or "A", max(1, words.roll_start), words.roll_digits)
    if words.mhl and not HASHES.keys() & {words.algorithm, *words.more_algorithms}:
        raise ActRefused("ASC MHL knows neither sha256 nor blake3: take xxh128, xxh64, md5 or sha1 besides.")
    if words.after_program and not _is_file_name(words.after_program):
        raise ActRefused("Name a program by its file name alone, as it lies in the station's folder for that.")


def _is_file_name(name: str) -> bool:
    return is_name(name, 80) and "/" not in name and not name.startswith(".")


def _stores(words: PlanWords, plan: Plan | None, production: Production) -> list[Store]:
    """Raises ActRefused for one that is not there, or that was reported lost and is new to the plan."""
    stores = list(Store.objects.filter(productions=production, name__in=words.stores))
    if missing := set(words.stores) - {store.name for store in stores}:
        raise ActRefused(f"There is no store '{min(missing)}'.")
    if retired := next((store for store in stores if store.retired_at), None):
        raise ActRefused(f"'{retired.name}' is out of service: take another store, or take it into service again.")
    there = set(plan.stores.values_list("name", flat=True)) if plan else set()
    if lost := (set(words.stores) - there) & lost_names():
        raise ActRefused(f"'{min(lost)}' was reported lost: take another store.")
    return stores


def _write(plan: Plan, name: str, words: PlanWords) -> None:
    plan.name, plan.algorithm = name, algorithm_named(words.algorithm).name
    plan.folder_template, plan.names_template, plan.names_start = words.folder, words.names, words.start
    plan.mend_names, plan.sidecars, plan.mhl = words.mend_names, words.sidecars, words.mhl
    plan.roll_prefix, plan.roll_digits, plan.roll_start = words.roll_prefix, words.roll_digits, words.roll_start
    plan.job, plan.fleet, plan.text = words.job, words.fleet, words.text
    plan.creator, plan.rights, plan.keywords = words.creator, words.rights, list(words.keywords)
    more = [algorithm_named(word).name for word in dict.fromkeys(words.more_algorithms)]
    plan.more_algorithms = [word for word in more if word != plan.algorithm]
    plan.read_twice, plan.release_after = words.read_twice, words.release_after
    if words.after_program != plan.after_program:
        plan.after_program, plan.after_since = words.after_program, now() if words.after_program else None
    plan.decodes_since = (plan.decodes_since or now()) if words.decodes else None
