from django.db import transaction

from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.crew.models import Membership, Person, Role
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.acts.change_production import checked_zone
from ruggedraft.productions.models import Camera, Plan, Production, RedundancyRule, UnitAway

from ..lines import VERSION, SetUpCamera, SetUpCard, UnitSetUp
from ..models import UnitSecret
from ..queries import secret_of

_PLAN = tuple(field.name for field in Plan._meta.concrete_fields if field.name not in ("id", "production"))


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
    _refuse_what_cannot_begin(said)
    made = Production.objects.create(
        uuid=said.production, name=said.name, time_zone=checked_zone(said.time_zone), first_day=said.first_day,
        day_starts_at=said.day_starts_at,
    )  # fmt: skip
    made.shared_stores.set(like.shared_stores.all())
    Membership.objects.create(person=person, production=made, role=Role.SUPERVISOR)
    known = RedundancyRule().parts()
    RedundancyRule.objects.create(production=made, **{name: one for name, one in said.rule.items() if name in known})
    _introduce_cards(said, {one.letter: _camera(made, like, one) for one in said.cameras})
    unit = UnitAway.objects.create(
        production=made, name=said.unit_name, uuid=said.unit, here=True, by=person, at=now(),
        numbers={letter: list(span) for letter, span in said.numbers.items()},
    )  # fmt: skip
    UnitSecret.objects.create(unit=unit, secret=said.secret)
    words = f"{person.shown_name} opened {made.name} for unit {said.unit_name}, with the numbers that are kept for it."
    write("begin as unit", made.name, words, person=person, production=made.pk)
    changed(*Topic)
    return made


def _refuse_what_cannot_begin(said: UnitSetUp) -> None:
    """Raises ActRefused."""
    if said.version != VERSION:
        raise ActRefused("This set-up is of a newer version than this ledger reads: bring this one up to date.")
    if Production.objects.filter(uuid=said.production).exists():
        raise ActRefused(f"{said.name} is in this ledger already: a unit takes a ledger of its own.")
    if Production.objects.filter(name__iexact=said.name).exists():
        raise ActRefused(f"There is another production {said.name} in this ledger.")
    taken = Card.objects.filter(label__in=[card.label for card in said.cards]).first()
    if taken is not None:
        raise ActRefused(f"Card {taken.label} is in this ledger already: a unit takes a ledger of its own.")
    letters = {camera.letter for camera in said.cameras}
    if not letters.issuperset(said.numbers) or any(card.camera not in letters for card in said.cards):
        raise ActRefused("This set-up speaks of a camera that is not in it: save it again where it was made.")


def _introduce_cards(said: UnitSetUp, cameras: dict[str, Camera]) -> None:
    for one in said.cards:
        card = Card.objects.create(label=one.label, kind=one.is_a, capacity=one.capacity, camera=cameras[one.camera])
        for serial in one.serials:
            card.serials.create(serial=serial)


def _camera(made: Production, like: Production, said: SetUpCamera) -> Camera:
    words = {name: one for name, one in said.plan.items() if name in _PLAN and name != "name"}
    plan, fresh = Plan.objects.get_or_create(
        production=made, name=str(said.plan.get("name", "Everything")), defaults=words
    )
    if fresh:
        plan.stores.set(like.shared_stores.all())
    return Camera.objects.create(production=made, letter=said.letter, name=said.name, kind=said.is_a, plan=plan)
