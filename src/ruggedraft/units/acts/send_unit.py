import secrets
from collections.abc import Mapping

from django.db import transaction

from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.core.wording import is_name, one_line
from ruggedraft.crew.models import Membership, Person, Role
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Camera, Plan, Production, RedundancyRule, UnitAway
from ruggedraft.rolls.models import Roll

from ..lines import VERSION, SetUpCamera, SetUpCard, UnitSetUp
from ..models import UnitSecret
from ..queries import secret_of

_HIGHEST = 99_999
_PLAN = (
    "name", "folder_template", "algorithm", "more_algorithms", "read_twice", "release_after", "names_template",
    "names_start", "mend_names", "job", "fleet", "text", "sidecars", "creator", "rights", "keywords", "roll_prefix",
    "roll_digits", "roll_start",
)  # fmt: skip


@transaction.atomic
def send_unit(person: Person, production: Production, name: str, numbers: Mapping[str, tuple[int, int]]) -> UnitAway:
    """Keep roll numbers for a part of the crew that goes away with a ledger of its own.

    numbers: by camera's letter, first and last. Raises ActRefused where a number is used or kept already.
    """
    require(person, May.SET_UP, production.pk)
    hold_still(production.pk)
    name = one_line(name)
    if not is_name(name, 40):
        raise ActRefused("A unit has a name of 1 to 40 signs.")
    if UnitAway.objects.filter(production=production, name=name).exists():
        raise ActRefused(f"There was a unit {name} already: give this one another name.")
    if not numbers:
        raise ActRefused("Say of which cameras the unit numbers rolls, and from where to where.")
    for letter, (first, last) in numbers.items():
        _refuse_used(production, letter, first, last)
    unit = UnitAway.objects.create(
        production=production, name=name, by=person, at=now(),
        numbers={letter: list(span) for letter, span in numbers.items()},
    )  # fmt: skip
    UnitSecret.objects.create(unit=unit, secret=secrets.token_hex(32))
    kept = ", ".join(f"{letter} {first} to {last}" for letter, (first, last) in sorted(numbers.items()))
    words = f"Unit {name} goes away with a ledger of its own; rolls {kept} are kept for it."
    write("send unit", name, words, person=person, production=production.pk)
    changed(Topic.SETUP)
    return unit


def _refuse_used(production: Production, letter: str, first: int, last: int) -> None:
    if not Camera.objects.filter(production=production, letter=letter).exists():
        raise ActRefused(f"There is no camera {letter} in {production.name}.")
    if not 1 <= first <= last <= _HIGHEST:
        raise ActRefused(f"Numbers go from the first to the last, at most {_HIGHEST:,}: {first} to {last} do not.")
    used = Roll.objects.filter(production=production, camera__letter=letter, number__range=(first, last)).first()
    if used is not None:
        raise ActRefused(f"Roll {used.tag} is there already: keep other numbers of camera {letter}.")
    for unit in UnitAway.objects.filter(production=production, ended_at=None):
        kept = unit.numbers.get(letter)
        if kept and first <= kept[1] and kept[0] <= last:
            raise ActRefused(f"Numbers {kept[0]} to {kept[1]} of camera {letter} are kept for unit {unit.name}.")


@transaction.atomic
def end_unit(person: Person, production: Production, unit_id: int) -> None:
    """A unit is back: its numbers are free again. What it hands in later is taken all the same."""
    require(person, May.SET_UP, production.pk)
    unit = UnitAway.objects.select_for_update().filter(pk=unit_id, production=production, here=False).first()
    if unit is None:
        raise NotThere("There is no such unit.")
    if unit.ended_at is None:
        unit.ended_at = now()
        unit.save(update_fields=["ended_at"])
        words = f"Unit {unit.name} is back: numbers that it did not use are free again."
        write("end unit", unit.name, words, person=person, production=production.pk)
        changed(Topic.SETUP)


def set_up_of(person: Person, production: Production, unit_id: int) -> UnitSetUp:
    """What the unit begins its ledger with. It holds the unit's secret: whoever has it can hand things in for it."""
    require(person, May.SET_UP, production.pk)
    unit = UnitAway.objects.filter(pk=unit_id, production=production, here=False).first()
    if unit is None:
        raise NotThere("There is no such unit.")
    cameras = Camera.objects.filter(production=production).select_related("plan")
    cards = Card.objects.filter(camera__production=production).select_related("camera").prefetch_related("serials")
    return UnitSetUp(
        version=VERSION, production=production.uuid, name=production.name, time_zone=production.time_zone,
        first_day=production.first_day, day_starts_at=production.day_starts_at, rule=production.rule.parts(),
        cameras=[
            SetUpCamera(letter=one.letter, name=one.name, is_a=one.kind,
                        plan={name: getattr(one.plan, name) for name in _PLAN})
            for one in cameras
        ],
        cards=[
            SetUpCard(label=one.label, is_a=one.kind, capacity=one.capacity, camera=one.owner.letter,
                      serials=sorted(serial.serial for serial in one.serials.all()))
            for one in cards.order_by("label")
        ],
        unit=unit.uuid, unit_name=unit.name, secret=secret_of(unit).hex(), numbers=unit.numbers,
    )  # fmt: skip


@transaction.atomic
def begin_as_unit(person: Person, like: Production, said: UnitSetUp) -> Production:
    """In the ledger that a unit takes with it: open the production as it was set up for the unit.

    like: a production of this ledger; whoever may set that up may do this. Raises ActRefused.
    """
    require(person, May.SET_UP, like.pk)
    if said.version != VERSION:
        raise ActRefused("This set-up is of a newer version than this ledger reads: bring this one up to date.")
    if Production.objects.filter(uuid=said.production).exists():
        raise ActRefused(f"{said.name} is in this ledger already: a unit takes a ledger of its own.")
    if Production.objects.filter(name__iexact=said.name).exists():
        raise ActRefused(f"There is another production {said.name} in this ledger.")
    taken = Card.objects.filter(label__in=[card.label for card in said.cards]).first()
    if taken is not None:
        raise ActRefused(f"Card {taken.label} is in this ledger already: a unit takes a ledger of its own.")
    made = Production.objects.create(
        uuid=said.production, name=said.name, time_zone=said.time_zone, first_day=said.first_day,
        day_starts_at=said.day_starts_at,
    )  # fmt: skip
    made.shared_stores.set(like.shared_stores.all())
    Membership.objects.create(person=person, production=made, role=Role.SUPERVISOR)
    known = set(RedundancyRule().parts())
    RedundancyRule.objects.create(production=made, **{name: one for name, one in said.rule.items() if name in known})
    cameras = {one.letter: _camera(made, like, one) for one in said.cameras}
    for one in said.cards:
        card = Card.objects.create(label=one.label, kind=one.is_a, capacity=one.capacity, camera=cameras[one.camera])
        for serial in one.serials:
            card.serials.create(serial=serial)
    unit = UnitAway.objects.create(
        production=made, name=said.unit_name, uuid=said.unit, here=True, by=person, at=now(),
        numbers={letter: list(span) for letter, span in said.numbers.items()},
    )  # fmt: skip
    UnitSecret.objects.create(unit=unit, secret=said.secret)
    words = f"{person.shown_name} opened {made.name} for unit {said.unit_name}, with the numbers that are kept for it."
    write("begin as unit", made.name, words, person=person, production=made.pk)
    changed(*Topic)
    return made


def _camera(made: Production, like: Production, said: SetUpCamera) -> Camera:
    words = {name: one for name, one in said.plan.items() if name in _PLAN and name != "name"}
    plan, fresh = Plan.objects.get_or_create(
        production=made, name=str(said.plan.get("name", "Everything")), defaults=words
    )
    if fresh:
        plan.stores.set(like.shared_stores.all())
    return Camera.objects.create(production=made, letter=said.letter, name=said.name, kind=said.is_a, plan=plan)
