"""Set-up: production, cameras, rigs, plans; a plan against a live example from a real card."""

from django.http import HttpRequest
from ninja import Path, Router

from ruggedraft.clearing.rule_effect import effect_of, rule_on
from ruggedraft.core.errors import ActRefused, PlanError
from ruggedraft.core.hashing import ALGORITHMS
from ruggedraft.core.naming import CLIP_FIELDS, ROLL_FIELDS
from ruggedraft.core.taking import EVERYTHING
from ruggedraft.intake.queries import last_read_with
from ruggedraft.live.snapshot import one_moment
from ruggedraft.live.together import asked_together
from ruggedraft.offloads.choosing import choose
from ruggedraft.offloads.proposal import example_naming
from ruggedraft.productions.acts.add_camera import add_camera
from ruggedraft.productions.acts.change_camera import change_camera
from ruggedraft.productions.acts.change_production import change_production
from ruggedraft.productions.acts.change_rule import change_rule, rule_with
from ruggedraft.productions.acts.close_production import close_production, open_again
from ruggedraft.productions.acts.open_production import open_production
from ruggedraft.productions.acts.save_plan import save_plan
from ruggedraft.productions.acts.save_rig import save_rig
from ruggedraft.productions.queries import (
    camera_of,
    plan_of,
    production_named,
    rule_changes,
    set_up_of,
)
from ruggedraft.stores.queries import is_lost, stores_in

from ..offloads.shapes import NamesOut
from ..shapes import REFUSED, Done
from ..who import who
from .shapes import (
    CameraIn,
    CameraWords,
    ExampleOut,
    FieldOut,
    OpenIn,
    PlanIn,
    PlanOut,
    ProductionIn,
    RigIn,
    RuleChangeOut,
    RuleEffectOut,
    RuleExceptionIn,
    RuleIn,
    RuleNow,
    RuleWanted,
    SetUpCameraOut,
    SetUpOut,
    SlugOut,
    StoreChoice,
)

router = Router(tags=["set-up"])
_MOST_CHANGES = 50


@router.get("", response=SetUpOut)
@asked_together
@one_moment()
def setup(request: HttpRequest, production: Path[str]) -> SetUpOut:
    current = production_named(production)
    made = set_up_of(current)
    return SetUpOut(
        name=current.name,
        closed=current.closed_at is not None,
        time_zone=current.time_zone,
        first_day=current.first_day,
        day_starts_at=current.day_starts_at,
        removal_allowed=current.removal_allowed,
        cameras=[SetUpCameraOut(letter=c.letter, name=c.name, kind=c.kind, plan=c.plan.name) for c in made.cameras],
        plans=[PlanOut.of(plan) for plan in made.plans],
        rigs=[
            RigIn(name=name, cameras=list(letters), first_shot=first_shot) for name, letters, first_shot in made.rigs
        ],
        stores=[StoreChoice(name=store.name, lost=is_lost(store)) for store in stores_in(current.pk).order_by("name")],
        rule=RuleNow.of(current.rule),
        algorithms=list(ALGORITHMS),
        fields=[
            *(FieldOut(name=name, words=words, of_clip=False) for name, words in ROLL_FIELDS.items()),
            *(FieldOut(name=name, words=words, of_clip=True) for name, words in CLIP_FIELDS.items()),
        ],
    )


@router.post("/productions", response={200: SlugOut, **REFUSED})
def another(request: HttpRequest, production: Path[str], given: OpenIn) -> SlugOut:
    """Begin another production, with the rule, plans and cameras of this one."""
    made = open_production(who(request), production_named(production), **given.model_dump())
    return SlugOut(slug=made.slug)


@router.post("/close", response={200: Done, **REFUSED})
def close(request: HttpRequest, production: Path[str]) -> Done:
    close_production(who(request), production_named(production))
    return Done()


@router.post("/open", response={200: Done, **REFUSED})
def open_it_again(request: HttpRequest, production: Path[str]) -> Done:
    open_again(who(request), production_named(production))
    return Done()


@router.post("/rule/effect", response={200: RuleEffectOut, **REFUSED})
@one_moment()
def effect_of_a_rule(request: HttpRequest, production: Path[str], given: RuleWanted) -> RuleEffectOut:
    """What would change if the rule was changed so; nothing is."""
    current = production_named(production)
    wanted = rule_with(current, given.model_dump(exclude_unset=True))
    return RuleEffectOut.of(effect_of(current, wanted))


@router.post("/rule/exceptions/effect", response={200: RuleEffectOut, **REFUSED})
@one_moment()
def effect_of_an_exception(request: HttpRequest, production: Path[str], given: RuleExceptionIn) -> RuleEffectOut:
    """What would change if something else was asked of a camera, a plan or a roll; nothing is."""
    current = production_named(production)
    on = rule_on(current, given.on.kind, given.on.name)
    return RuleEffectOut.of(effect_of(current, rule_with(current, _parts(given), on), on))


@router.put("/rule/exceptions", response={200: Done, **REFUSED})
def change_an_exception(request: HttpRequest, production: Path[str], given: RuleExceptionIn) -> Done:
    current = production_named(production)
    change_rule(who(request), current, _parts(given), given.reason, rule_on(current, given.on.kind, given.on.name))
    return Done()


def _parts(given: RuleExceptionIn) -> dict[str, int | bool | None] | None:
    return None if given.parts is None else given.parts.model_dump(exclude_unset=True)


@router.get("/rule/changes", response=list[RuleChangeOut])
def changes_of_the_rule(request: HttpRequest, production: Path[str]) -> list[RuleChangeOut]:
    """The last ones, newest first."""
    return [RuleChangeOut.of(change) for change in rule_changes(production_named(production), _MOST_CHANGES)]


@router.patch("/rule", response={200: Done, **REFUSED})
def change_the_rule(request: HttpRequest, production: Path[str], given: RuleIn) -> Done:
    wanted = given.model_dump(exclude_unset=True, exclude={"reason"})
    change_rule(who(request), production_named(production), wanted, given.reason)
    return Done()


@router.put("/production", response={200: Done, **REFUSED})
def put_production(request: HttpRequest, production: Path[str], given: ProductionIn) -> Done:
    change_production(who(request), production_named(production), **given.model_dump())
    return Done()


@router.post("/plans", response={200: Done, **REFUSED})
def post_plan(request: HttpRequest, production: Path[str], given: PlanIn) -> Done:
    save_plan(who(request), production_named(production), given.as_words())
    return Done()


@router.put("/plans/{plan_id}", response={200: Done, **REFUSED})
def put_plan(request: HttpRequest, production: Path[str], plan_id: int, given: PlanIn) -> Done:
    current = production_named(production)
    save_plan(who(request), current, given.as_words(), plan_of(current, plan_id))
    return Done()


@router.post("/plans/{plan_id}/example", response={200: ExampleOut, **REFUSED})
def example(request: HttpRequest, production: Path[str], plan_id: int, given: PlanIn) -> ExampleOut:
    """What a plan, changed like this, would make of a real card: of its cameras' cards the one that was read last."""
    plan = plan_of(production_named(production), plan_id)
    listing = last_read_with(plan)
    try:
        naming = given.as_words().naming()
        if listing is None or listing.card is None:
            return ExampleOut(card=None, folder="", names=None, trouble="")
        folder, words = example_naming(listing, plan, naming, mend=given.mend_names, words=given.model_dump())
        chosen = list(stores_in(plan.production_id).filter(name__in=given.stores))
        choice = choose(listing, EVERYTHING, words, None, chosen)
    except (ActRefused, PlanError) as error:
        return ExampleOut(card=None, folder="", names=None, trouble=error.sentence)
    return ExampleOut(card=listing.card.label, folder=folder, names=NamesOut.of(choice, mended=words.mend), trouble="")


@router.post("/cameras", response={200: Done, **REFUSED})
def post_camera(request: HttpRequest, production: Path[str], given: CameraIn) -> Done:
    add_camera(who(request), production_named(production), **given.model_dump())
    return Done()


@router.put("/cameras/{letter}", response={200: Done, **REFUSED})
def put_camera(request: HttpRequest, production: Path[str], letter: str, given: CameraWords) -> Done:
    change_camera(who(request), camera_of(production_named(production), letter), **given.model_dump())
    return Done()


@router.post("/rigs", response={200: Done, **REFUSED})
def post_rig(request: HttpRequest, production: Path[str], given: RigIn) -> Done:
    save_rig(
        who(request), production_named(production), name=given.name, letters=given.cameras, first_shot=given.first_shot
    )
    return Done()
