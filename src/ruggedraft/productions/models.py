from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from enum import StrEnum
from itertools import chain, count
from typing import Any
from uuid import uuid4
from zoneinfo import ZoneInfo

from django.conf import settings
from django.db import models
from django.utils.text import slugify

from ruggedraft.core.cards import CameraClock, ClockSpan
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.naming import NamingPlan
from ruggedraft.core.redundancy import Rule
from ruggedraft.stores.models import Store


class Production(models.Model):
    """Acts that change what a verdict rests on lock its row, so that no clearance is decided on half a change.

    uuid: the same in every ledger that works on it: a unit away has its own
    slug: its name in addresses; it stays when the name changes
    day_starts_at: the hour, local time, at which a shoot day begins
    removal_allowed: files that are safe elsewhere may be taken off cards here
    closed_at: since when nothing new is offloaded for it. What its cards and copies are goes on being judged
    """

    uuid = models.UUIDField(default=uuid4, unique=True, editable=False)
    name = models.CharField(max_length=80, unique=True)
    slug = models.SlugField(max_length=40, unique=True)
    time_zone = models.CharField(max_length=60, default="UTC")
    first_day = models.DateField()
    day_starts_at = models.PositiveSmallIntegerField(default=4)
    removal_allowed = models.BooleanField(default=False)
    closed_at = models.DateTimeField(null=True)

    def save(self, *words: Any, **more: Any) -> None:
        self.slug = self.slug or _free_slug(self.name)
        super().save(*words, **more)

    def local(self, moment: datetime) -> datetime:
        """A moment by the clocks where it is shot."""
        return moment.astimezone(ZoneInfo(self.time_zone))

    def shoot_day(self, moment: datetime) -> date:
        """The shoot day of a moment: work after midnight belongs to the day before."""
        return (self.local(moment) - timedelta(hours=self.day_starts_at)).date()

    def span_of(self, day: date) -> tuple[datetime, datetime]:
        """When a shoot day begins, and when the next does: the moments of which it is the `shoot_day`."""
        starts, zone = time(self.day_starts_at), ZoneInfo(self.time_zone)
        return datetime.combine(day, starts, zone), datetime.combine(day + timedelta(days=1), starts, zone)

    def number_of(self, day: date) -> int:
        """Of a shoot day; the first is 1, and those before it are 0 and less."""
        return (day - self.first_day).days + 1


_PLACES = frozenset(
    (
        "begin", "join", "bench", "tally", "clearing", "stores", "cards", "clearances", "find", "log", "handover",
        "setup", "days", "reports", "deliveries", "sets", "d", "returns", "room", "news", "wall", "trends", "legend",
        "parts", "api", "static",
    )
)  # fmt: skip
"""First parts of addresses that mean something else."""


def _free_slug(name: str) -> str:
    """A name for addresses that nothing else has."""
    base = slugify(name)[:36] or "production"
    tried = chain((base,), (f"{base}-{n}" for n in count(2)))
    return next(slug for slug in tried if slug not in _PLACES and not Production.objects.filter(slug=slug).exists())


class RedundancyRule(models.Model):
    """What a roll of this production needs before its card may be reused; see `core.redundancy.Rule`.

    exceptions: what differs for some cameras, plans and rolls, as `RuleException` data
    """

    production = models.OneToOneField(Production, on_delete=models.CASCADE, related_name="rule")
    copies = models.PositiveSmallIntegerField(default=2)
    devices = models.PositiveSmallIntegerField(default=2)
    locations = models.PositiveSmallIntegerField(default=1)
    offsite = models.PositiveSmallIntegerField(default=0)
    media = models.PositiveSmallIntegerField(default=1)
    level = models.PositiveSmallIntegerField(choices=[(e.value, e.words) for e in Evidence], default=Evidence.READ_BACK)
    fresh_days = models.PositiveIntegerField(null=True)
    signers = models.PositiveSmallIntegerField(default=1)
    listing_within_minutes = models.PositiveIntegerField(null=True, default=60)
    looked_within_minutes = models.PositiveIntegerField(null=True, default=10)
    shelf_days = models.PositiveIntegerField(null=True)
    looked_at_percent = models.PositiveSmallIntegerField(default=0)
    keep_doubles = models.BooleanField(default=True)
    chosen_only = models.BooleanField(default=False)
    exceptions = models.JSONField(default=list)

    def parts(self) -> dict[str, int | bool | None]:
        """Each part by its name."""
        return {name: getattr(self, name) for name in RULE_PARTS}

    def as_rule(self) -> Rule:
        """What it asks where nothing else is said."""
        return rule_of(self.parts())

    def ruled(self) -> "Ruled":
        """With its exceptions."""
        return Ruled(self.parts(), self.exceptions)


RULE_PARTS = tuple(
    field.name for field in RedundancyRule._meta.fields if field.name not in ("id", "production", "exceptions")
)


def default_parts() -> dict[str, Any]:
    """Of a rule of which nothing is said."""
    return RedundancyRule().parts()


def rule_of(parts: Mapping[str, Any]) -> Rule:
    """parts: every one of a rule, by the names in `RedundancyRule`"""
    return Rule(
        copies=parts["copies"],
        devices=parts["devices"],
        locations=parts["locations"],
        offsite=parts["offsite"],
        media=parts["media"],
        level=Evidence(parts["level"]),
        fresh=_days(parts["fresh_days"]),
        signers=parts["signers"],
        listing_within=_minutes(parts["listing_within_minutes"]),
        looked_within=_minutes(parts["looked_within_minutes"]),
        shelf=_days(parts["shelf_days"]),
        looked_at=parts["looked_at_percent"] / 100,
        keep_doubles=parts["keep_doubles"],
        chosen_only=parts["chosen_only"],
    )


def _minutes(count: int | None) -> timedelta | None:
    return None if count is None else timedelta(minutes=count)


def _days(count: int | None) -> timedelta | None:
    return None if count is None else timedelta(days=count)


class RuledThing(StrEnum):
    """What may be asked for otherwise than the production does. One that is further down goes before those above."""

    PLAN = "plan"
    CAMERA = "camera"
    ROLL = "roll"


@dataclass(frozen=True)
class RuleException:
    """on, of: what it is about: a kind of thing, and its id. parts: those that differ, by their names"""

    on: RuledThing
    of: int
    parts: Mapping[str, Any]

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "RuleException":
        """From JSON."""
        return cls(RuledThing(data["on"]), data["of"], data["parts"])


class Ruled:
    """A production's rule with its exceptions: what is asked of each roll and card."""

    def __init__(self, parts: Mapping[str, Any], exceptions: Iterable[Mapping[str, Any]]) -> None:
        """parts: every one, by the names in `RedundancyRule`. exceptions: as `RuleException` data"""
        self._parts = parts
        self.base = rule_of(parts)
        self._exceptions = [RuleException.from_data(one) for one in exceptions]
        self._known: dict[tuple[int | None, ...], Rule] = {}

    @property
    def key(self) -> tuple[Rule, str]:
        """Equal for two of which the same is asked."""
        return self.base, repr(self._exceptions)

    @property
    def has_exceptions(self) -> bool:
        return bool(self._exceptions)

    @property
    def rolls(self) -> tuple[int, ...]:
        """Ids of rolls that have an exception of their own."""
        return tuple(one.of for one in self._exceptions if one.on is RuledThing.ROLL)

    def of(self, camera: "Camera", roll: int | None = None) -> Rule:
        """What is asked of a camera's cards, or of one of its rolls (id)."""
        if not self._exceptions:
            return self.base
        key = camera.plan_id, camera.pk, roll if roll in self.rolls else None
        if key not in self._known:
            self._known[key] = self._worked_out(dict(zip(RuledThing, key, strict=True)))
        return self._known[key]

    def own(self, camera: "Camera", roll: int) -> Rule | None:
        """What is asked of a roll, where that is not what is asked of every one."""
        rule = self.of(camera, roll)
        return None if rule == self.base else rule

    def _worked_out(self, of: Mapping[RuledThing, int | None]) -> Rule:
        parts = dict(self._parts)
        for thing in RuledThing:
            for one in self._exceptions:
                if one.on is thing and one.of == of[thing]:
                    parts |= one.parts
        return rule_of(parts)


class RuleChange(models.Model):
    """A rule as it was from some moment on, by whom and why. Append-only."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="rule_changes")
    at = models.DateTimeField()
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    reason = models.CharField(max_length=300)
    rule = models.JSONField()


class Plan(models.Model):
    """What is the same for every card of a kind of camera; folder and names: see `core.naming.NamingPlan`.

    mend_names: names that a store's file system cannot hold are mended; otherwise such a card is refused
    algorithm: what copies are compared by. more_algorithms: names of others that are taken in the same reading
    release_after: a reader lets go of a card by itself when its run has ended well
    read_twice: cards are read a second time, to catch a reader that gives different bytes
    decodes_since: the recordings of rolls that were begun since are decoded, every frame; None: only when asked for
    sidecars: creator, rights, keywords and notes are written beside the copies, never into the originals
    mhl: an ASC MHL history is left in each copy's folder
    after_program: file name of a program that stations start after offloads that end well since `after_since`
    """

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="plans")
    name = models.CharField(max_length=80)
    folder_template = models.CharField(max_length=300, default="{production}/{date}/{roll}")
    algorithm = models.CharField(max_length=10, default="xxh128")
    more_algorithms = models.JSONField(default=list)
    read_twice = models.BooleanField(default=False)
    release_after = models.BooleanField(default=False)
    decodes_since = models.DateTimeField(null=True)
    names_template = models.CharField(max_length=300, blank=True)
    names_start = models.PositiveIntegerField(default=1)
    mend_names = models.BooleanField(default=False)
    job = models.CharField(max_length=80, blank=True)
    fleet = models.CharField(max_length=80, blank=True)
    text = models.CharField(max_length=80, blank=True)
    sidecars = models.BooleanField(default=False)
    mhl = models.BooleanField(default=False)
    after_program = models.CharField(max_length=80, blank=True)
    after_since = models.DateTimeField(null=True)
    creator = models.CharField(max_length=200, blank=True)
    rights = models.CharField(max_length=300, blank=True)
    keywords = models.JSONField(default=list)
    roll_prefix = models.CharField(max_length=10, blank=True)
    roll_digits = models.PositiveSmallIntegerField(default=3)
    roll_start = models.PositiveIntegerField(default=1)
    stores = models.ManyToManyField(Store, related_name="plans")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["production", "name"], name="plan_name_once")]

    def naming(self) -> NamingPlan:
        return NamingPlan(self.folder_template, self.names_template, self.names_start)


class Camera(models.Model):
    """A camera of a production. `letter` is its prefix in roll tags.

    clock: what was found out about its clock: seconds that it was ahead of the true time, and between which of its own
    times, in seconds since 1970 or null. The journal says who found it out, and when
    """

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="cameras")
    letter = models.CharField(max_length=4)
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=40)
    plan = models.ForeignKey(Plan, on_delete=models.PROTECT, related_name="cameras")
    clock = models.JSONField(default=list)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["production", "letter"], name="camera_letter_once")]
        ordering = ["letter"]

    def as_clock(self) -> CameraClock:
        spans = (
            ClockSpan(timedelta(seconds=ahead), moment(since), moment(until)) for ahead, since, until in self.clock
        )
        return CameraClock(tuple(spans))


def moment(seconds: int | None) -> datetime | None:
    """A time that is kept as seconds since 1970; None is open."""
    return None if seconds is None else datetime.fromtimestamp(seconds, UTC)


class Rig(models.Model):
    """Several cameras that record the same action. first_shot: the number of its first shot."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="rigs")
    name = models.CharField(max_length=80)
    cameras = models.ManyToManyField(Camera, related_name="rigs")
    first_shot = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["production", "name"], name="rig_name_once")]
        ordering = ["name"]


class UnitAway(models.Model):
    """A part of the crew that works with a ledger of its own, for a while and without a network, and joins it later.

    uuid: the same in both ledgers
    here: this ledger is the unit's; otherwise it is the one that it joins
    numbers: by camera's letter, the first and the last roll number that are kept for it, and for nobody else
    ended_at: since when its numbers are free again; what it hands in is taken all the same
    """

    production = models.ForeignKey(Production, on_delete=models.PROTECT, related_name="units")
    name = models.CharField(max_length=40)
    uuid = models.UUIDField(default=uuid4)
    here = models.BooleanField(default=False)
    numbers = models.JSONField(default=dict)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["production", "name"], name="unit_name_once"),
            models.UniqueConstraint(fields=["production", "uuid"], name="unit_once"),
        ]
