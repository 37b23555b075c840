"""Set-up: production, cameras, rigs, plans; a plan against a live example from a real card."""

from datetime import date

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Schema

from ruggedraft.core.errors import ActRefused, PlanError
from ruggedraft.core.hashing import ALGORITHMS
from ruggedraft.core.naming import CLIP_FIELDS, ROLL_FIELDS
from ruggedraft.core.taking import EVERYTHING
from ruggedraft.intake.models import CardListing
from ruggedraft.intake.queries import latest_listing
from ruggedraft.offloads.choosing import choose
from ruggedraft.offloads.proposal import example_naming
from ruggedraft.productions.acts.change_production import change_production
from ruggedraft.productions.acts.change_rule import change_rule
from ruggedraft.productions.acts.save_camera import save_camera
from ruggedraft.productions.acts.save_plan import PlanWords, save_plan
from ruggedraft.productions.acts.save_rig import save_rig
from ruggedraft.productions.models import Plan
from ruggedraft.rolls.acts.state_device import state_device
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import is_lost, stores

from .current import production
from .proposals import NamesOut
from .shapes import Done, Problem

router = Router(tags=["set-up"])
REFUSED = {403: Problem, 409: Problem}


class FieldOut(Schema):
    name: str
    words: str
    of_clip: bool


class PlanIn(Schema):
    """folder, names: templates. start: of {number}. stores: by name."""

    name: str
    folder: str
    names: str = ""
    start: int = 1
    mend_names: bool = False
    roll_prefix: str = ""
    roll_digits: int = 3
    roll_start: int = 1
    algorithm: str = "xxh128"
    more_algorithms: list[str] = []
    read_twice: bool = False
    job: str = ""
    group: str = ""
    text: str = ""
    sidecars: bool = False
    creator: str = ""
    rights: str = ""
    keywords: list[str] = []
    stores: list[str] = []

    def as_words(self) -> PlanWords:
        return PlanWords(**self.model_dump())


class PlanOut(PlanIn):
    id: int

    @staticmethod
    def of(plan: Plan) -> "PlanOut":
        return PlanOut(
            id=plan.pk, name=plan.name, folder=plan.folder_template, names=plan.names_template, start=plan.names_start,
            mend_names=plan.mend_names, roll_prefix=plan.roll_prefix, roll_digits=plan.roll_digits,
            roll_start=plan.roll_start, algorithm=plan.algorithm, more_algorithms=plan.more_algorithms,
            read_twice=plan.read_twice, job=plan.job, group=plan.group, text=plan.text,
            sidecars=plan.sidecars, creator=plan.creator, rights=plan.rights, keywords=plan.keywords,
            stores=[store.name for store in plan.stores.all()],
        )  # fmt: skip


class SetUpCameraOut(Schema):
    letter: str
    name: str
    kind: str
    plan: str
    clock_ahead_s: int


class CameraIn(Schema):
    letter: str
    name: str
    kind: str
    plan: str


class RigIn(Schema):
    name: str
    cameras: list[str]
    first_shot: int = 1


class ProductionIn(Schema):
    """day_starts_at: the hour, local time, at which a shoot day begins."""

    time_zone: str
    first_day: date
    day_starts_at: int


class StoreChoice(Schema):
    """lost: its device was reported lost: it can be taken out of a plan, and not put into one."""

    name: str
    lost: bool


class SetUpOut(ProductionIn):
    name: str
    cameras: list[SetUpCameraOut]
    plans: list[PlanOut]
    rigs: list[RigIn]
    stores: list[StoreChoice]
    algorithms: list[str]
    fields: list[FieldOut]


class ExampleOut(Schema):
    """A plan on a real card. card: its label, null where no card of these cameras was read yet. folder: of the roll."""

    card: str | None
    folder: str
    names: NamesOut | None
    trouble: str


@router.get("", response=SetUpOut)
def setup(request: HttpRequest) -> SetUpOut:
    current = production()
    return SetUpOut(
        name=current.name,
        time_zone=current.time_zone,
        first_day=current.first_day,
        day_starts_at=current.day_starts_at,
        cameras=[
            SetUpCameraOut(letter=c.letter, name=c.name, kind=c.kind, plan=c.plan.name, clock_ahead_s=c.clock_ahead_s)
            for c in current.cameras.select_related("plan")
        ],
        plans=[PlanOut.of(plan) for plan in current.plans.prefetch_related("stores").order_by("name")],
        rigs=[
            RigIn(name=rig.name, cameras=[c.letter for c in rig.cameras.all()], first_shot=rig.first_shot)
            for rig in current.rigs.prefetch_related("cameras")
        ],
        stores=[StoreChoice(name=store.name, lost=is_lost(store)) for store in stores().order_by("name")],
        algorithms=list(ALGORITHMS),
        fields=[
            *(FieldOut(name=name, words=words, of_clip=False) for name, words in ROLL_FIELDS.items()),
            *(FieldOut(name=name, words=words, of_clip=True) for name, words in CLIP_FIELDS.items()),
        ],
    )


class RuleIn(Schema):
    """Parts that are left out stay as they are. level: 0 listed, 1 written, 2 attested, 3 read back."""

    reason: str
    copies: int | None = None
    devices: int | None = None
    locations: int | None = None
    offsite: int | None = None
    media: int | None = None
    level: int | None = None
    fresh_days: int | None = None
    signers: int | None = None
    listing_within_minutes: int | None = None
    looked_within_minutes: int | None = None
    shelf_days: int | None = None


@router.patch("/rule", response={200: Done, **REFUSED})
def change_the_rule(request: HttpRequest, given: RuleIn) -> Done:
    wanted = given.model_dump(exclude_unset=True, exclude={"reason"})
    change_rule(request.user, production(), wanted, given.reason)
    return Done()


class StandsOnIn(Schema):
    """stands_on: a name for the physical thing; stores with one name are one device."""

    stands_on: str
    reason: str


@router.post("/stores/{name}/device", response={200: Done, **REFUSED})
def stands_on(request: HttpRequest, name: str, given: StandsOnIn) -> Done:
    state_device(request.user, get_object_or_404(Store, name=name), given.stands_on, given.reason)
    return Done()


@router.put("/production", response={200: Done, **REFUSED})
def put_production(request: HttpRequest, given: ProductionIn) -> Done:
    change_production(request.user, production(), **given.model_dump())
    return Done()


@router.post("/plans", response={200: Done, **REFUSED})
def post_plan(request: HttpRequest, given: PlanIn) -> Done:
    save_plan(request.user, production(), given.as_words())
    return Done()


@router.put("/plans/{plan_id}", response={200: Done, **REFUSED})
def put_plan(request: HttpRequest, plan_id: int, given: PlanIn) -> Done:
    current = production()
    save_plan(request.user, current, given.as_words(), get_object_or_404(Plan, pk=plan_id, production=current))
    return Done()


@router.post("/plans/{plan_id}/example", response={200: ExampleOut, **REFUSED})
def example(request: HttpRequest, plan_id: int, given: PlanIn) -> ExampleOut:
    """What a plan, changed like this, would make of a real card: of its cameras' cards the one that was read last."""
    plan = get_object_or_404(Plan, pk=plan_id, production=production())
    listings = CardListing.objects.filter(card__camera__plan=plan, files__gt=0).order_by("-began_at")
    listing = listings.select_related("card__camera__production", "insertion").first()
    try:
        naming = given.as_words().naming()
        if listing is None or listing.card is None:
            return ExampleOut(card=None, folder="", names=None, trouble="")
        listing = latest_listing(listing.card) or listing
        folder, words = example_naming(listing, plan, naming, mend=given.mend_names, words=given.model_dump())
        chosen = list(Store.objects.filter(name__in=given.stores))
        choice = choose(listing, EVERYTHING, words, None, chosen)
    except (ActRefused, PlanError) as error:
        return ExampleOut(card=None, folder="", names=None, trouble=error.sentence)
    return ExampleOut(card=listing.card.label, folder=folder, names=NamesOut.of(choice, mended=words.mend), trouble="")


@router.post("/cameras", response={200: Done, **REFUSED})
def post_camera(request: HttpRequest, given: CameraIn) -> Done:
    save_camera(request.user, production(), **given.model_dump())
    return Done()


@router.post("/rigs", response={200: Done, **REFUSED})
def post_rig(request: HttpRequest, given: RigIn) -> Done:
    save_rig(request.user, production(), name=given.name, letters=given.cameras, first_shot=given.first_shot)
    return Done()
