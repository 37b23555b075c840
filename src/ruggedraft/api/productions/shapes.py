"""Production, cameras, rigs and plans as the set-up shows them."""

from collections.abc import Mapping
from datetime import date, datetime
from typing import Any, Self

from pydantic import BaseModel

from ruggedraft.clearing.rule_effect import RuleEffect
from ruggedraft.core.redundancy import CardStanding, rule_sentence
from ruggedraft.productions.acts.save_plan import PlanWords
from ruggedraft.productions.models import (
    Plan,
    RedundancyRule,
    RuleChange,
    RuledThing,
    default_parts,
    rule_of,
)
from ruggedraft.productions.queries import exceptions_now

from ..offloads.shapes import NamesOut


class FieldOut(BaseModel):
    name: str
    words: str
    of_clip: bool


class PlanIn(BaseModel):
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
    release_after: bool = False
    decodes: bool = False
    job: str = ""
    fleet: str = ""
    text: str = ""
    sidecars: bool = False
    mhl: bool = False
    after_program: str = ""
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
            read_twice=plan.read_twice, release_after=plan.release_after,
            decodes=plan.decodes_since is not None, job=plan.job, fleet=plan.fleet,
            text=plan.text, sidecars=plan.sidecars, mhl=plan.mhl,
            after_program=plan.after_program, creator=plan.creator, rights=plan.rights,
            keywords=plan.keywords,
            stores=[store.name for store in plan.stores.all()],
        )  # fmt: skip


class SetUpCameraOut(BaseModel):
    letter: str
    name: str
    kind: str
    plan: str


class CameraWords(BaseModel):
    """plan: its name."""

    name: str
    kind: str
    plan: str


class CameraIn(CameraWords):
    letter: str


class RigIn(BaseModel):
    name: str
    cameras: list[str]
    first_shot: int = 1


class ProductionIn(BaseModel):
    """day_starts_at: the hour, local time, at which a shoot day begins.

    removal_allowed: files that are safe elsewhere may be taken off cards here; null: as before
    """

    time_zone: str
    first_day: date
    day_starts_at: int
    removal_allowed: bool | None = None


class StoreChoice(BaseModel):
    """lost: its device was reported lost: it can be taken out of a plan, and not put into one."""

    name: str
    lost: bool


class RuleWanted(BaseModel):
    """A rule that somebody thinks of: the parts of it that would be others."""

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
    looked_at_percent: int | None = None
    keep_doubles: bool | None = None
    chosen_only: bool | None = None


class RuledIn(BaseModel):
    """What something else is asked of. name: the camera's letter, the plan's name, or the roll's tag"""

    kind: RuledThing
    name: str


class RuleExceptionIn(BaseModel):
    """parts: those that differ. null: nothing else is asked any more. reason: not needed to see what it would do"""

    on: RuledIn
    parts: RuleWanted | None
    reason: str = ""


class RuleIn(RuleWanted):
    """Parts that are left out stay as they are. level: 0 listed, 1 written, 2 attested, 3 read back."""

    reason: str


class CardChangeOut(BaseModel):
    label: str
    before: CardStanding
    after: CardStanding


class RuleEffectOut(BaseModel):
    """sentence: the rule in words. falls, rises: tags of rolls that would no longer, or newly, meet it."""

    sentence: str
    cards: list[CardChangeOut]
    falls: list[str]
    rises: list[str]

    @classmethod
    def of(cls, effect: RuleEffect) -> Self:
        cards = [CardChangeOut(label=one.label, before=one.before, after=one.after) for one in effect.cards]
        sentence = rule_sentence(effect.asked)
        return cls(sentence=sentence, cards=cards, falls=list(effect.falls), rises=list(effect.rises))


class RuleNow(BaseModel):
    """The rule as it is; level: 0 listed, 1 written, 2 attested, 3 read back. None: any age."""

    sentence: str
    copies: int
    devices: int
    locations: int
    offsite: int
    media: int
    level: int
    fresh_days: int | None
    signers: int
    listing_within_minutes: int | None
    looked_within_minutes: int | None
    shelf_days: int | None
    looked_at_percent: int
    keep_doubles: bool
    chosen_only: bool
    exceptions: list["RuleExceptionOut"]

    @classmethod
    def of(cls, rule: RedundancyRule) -> Self:
        others = [RuleExceptionOut.of(one, rule) for one in exceptions_now(rule)]
        parts: dict[str, Any] = rule.parts()
        return cls(sentence=rule_sentence(rule.as_rule()), exceptions=others, **parts)


class RuleExceptionOut(BaseModel):
    """sentence: what is asked of it in all, in words. parts: those that differ, by their names"""

    kind: RuledThing
    name: str
    sentence: str
    parts: dict[str, int | bool | None]

    @classmethod
    def of(cls, one: Mapping[str, Any], rule: RedundancyRule) -> Self:
        sentence = rule_sentence(rule_of(rule.parts() | one["parts"]))
        return cls(kind=RuledThing(one["on"]), name=one["name"], sentence=sentence, parts=one["parts"])


class RuleChangeOut(BaseModel):
    """sentence: what was asked from then on."""

    at: datetime
    by: str
    reason: str
    sentence: str

    @classmethod
    def of(cls, change: RuleChange) -> Self:
        parts = default_parts() | change.rule
        said = rule_sentence(rule_of(parts))
        for one in change.rule.get("exceptions", ()):
            said += f"; {one['on']} {one['name']}: {rule_sentence(rule_of(parts | one['parts']))}"
        return cls(at=change.at, by=change.person.shown_name, reason=change.reason, sentence=said)


class OpenIn(BaseModel):
    """first_day: of the shoot."""

    name: str
    time_zone: str
    first_day: date


class SlugOut(BaseModel):
    """Its name in addresses."""

    slug: str


class SetUpOut(ProductionIn):
    """closed: nothing new is offloaded for it."""

    name: str
    closed: bool
    cameras: list[SetUpCameraOut]
    plans: list[PlanOut]
    rigs: list[RigIn]
    stores: list[StoreChoice]
    rule: RuleNow
    algorithms: list[str]
    fields: list[FieldOut]


class ExampleOut(BaseModel):
    """A plan on a real card. card: its label, null where no card of these cameras was read yet. folder: of the roll."""

    card: str | None
    folder: str
    names: NamesOut | None
    trouble: str
