"""A plan for folders and names: where each file of a card goes, and under which name."""

import re
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import tzinfo

from ..cards.clips import Clip
from ..cards.describe import CardDescription
from ..cards.tree import base_of, name_of
from ..errors import PlanError
from ..sources.listing import Entry
from .templates import FIELDS, ROLL_FIELDS, Template

_COUNTER = re.compile(r"(\d+)\D*$")


@dataclass(frozen=True)
class NamingPlan:
    """folder: of a roll. names: of a clip's files, without ending, below that folder; "" keeps the card's own tree.

    start: the first `{number}`
    """

    folder: str = "{production}/{date}/{roll}"
    names: str = ""
    start: int = 1

    def checked(self) -> "NamingPlan":
        """Itself, if it can be used at all. Raises PlanError."""
        folder, names = Template.parse(self.folder, ROLL_FIELDS), Template.parse(self.names, FIELDS)
        if "roll" not in folder.fields | names.fields:
            raise PlanError("The folder or the names must contain {roll}, or two rolls would end up under one name.")
        if self.names and not names.fields & {"name", "counter"}:
            raise PlanError("The names must contain {name} or {counter}: the camera's own number is never lost.")
        if "roll" not in folder.fields and not self.names:
            raise PlanError("A folder without {roll} needs names that contain it.")
        return self


def roll_folder(plan: NamingPlan, values: Mapping[str, str]) -> str:
    """The folder of a roll, relative to a store's root, with `/` between parts. Raises PlanError.

    >>> roll_folder(NamingPlan(), {"production": "Heron", "date": "2026-05-14", "roll": "A012"})
    'Heron/2026-05-14/A012'
    """
    plan.checked()
    return Template.parse(plan.folder, ROLL_FIELDS).render(values)


@dataclass(frozen=True)
class Names:
    """kept_as: where each file of the card goes below the roll's folder. collisions: paths wanted more than once.

    whole: how many clips keep their names whatever the plan says, because other files refer to them by name
    """

    kept_as: dict[str, str]
    collisions: dict[str, int]
    whole: int = 0


def name_files(
    described: CardDescription,
    plan: NamingPlan,
    values: Mapping[str, str],
    *,
    zone: tzinfo,
    kept: Mapping[str, str] | None = None,
    shots: Mapping[str, int] | None = None,
) -> Names:
    """Where every file of a card goes. All files of a clip keep one base name in one folder. Raises PlanError.

    values: of the roll's fields. zone: of the clips' own times
    kept: what was decided before for files of this roll; it stays, and its numbers are not given twice
    shots: a rig's shot number by a clip's main path; where there are any, a clip of no shot is in shot 0
    """
    naming = _Naming(plan.checked(), values, zone, dict(kept or {}), dict(shots or {}))
    found: dict[str, str] = {}
    for clip in described.clips:
        found |= naming.whole(clip.entries) if clip.main.path in described.kept_whole else naming.of(clip)
    found |= naming.whole(described.loose)
    wanted = Counter(found.values())
    collisions = {path: count for path, count in wanted.items() if count > 1}
    return Names(found, collisions, len(described.kept_whole) if plan.names else 0)


class _Naming:
    """The clips of one card, named in their order."""

    def __init__(
        self, plan: NamingPlan, values: Mapping[str, str], zone: tzinfo, kept: dict[str, str], shots: dict[str, int]
    ) -> None:
        self._names = Template.parse(plan.names, FIELDS) if plan.names else None
        self._values, self._zone, self._kept, self._shots = values, zone, kept, shots
        self._number = plan.start + len({_clip_at(path) for path, to in kept.items() if path != to})
        self._taken = set(kept.values())
        shared = "roll" not in Template.parse(plan.folder, ROLL_FIELDS).fields
        self._rest = values["roll"] + "/" if shared else ""

    def whole(self, entries: Iterable[Entry]) -> dict[str, str]:
        """Where files go that keep the card's own names, by path on the card."""
        return {entry.path: self._kept.get(entry.path, self._rest + entry.path) for entry in entries}

    def of(self, clip: Clip) -> dict[str, str]:
        """Where the files of a clip go, by path on the card: a clip that has names keeps them."""
        if self._names is None:
            return self.whole(clip.entries)
        known = {entry.path: self._kept[entry.path] for entry in clip.entries if entry.path in self._kept}
        if len(known) == len(clip.entries):
            return known
        return self._new(clip, self._names) | known

    def _new(self, clip: Clip, names: Template) -> dict[str, str]:
        shot = self._shots.get(clip.main.path, 0 if self._shots else None)
        while True:
            base = names.render({**self._values, **_of_clip(clip, self._number, self._zone, shot)})
            found = {entry.path: base + _suffix(clip, entry) for entry in clip.entries}
            self._number += 1
            if "number" not in names.fields or self._taken.isdisjoint(found.values()):
                return found


def _clip_at(path: str) -> tuple[str, str]:
    """Folder and base name: what the files of one clip share. Where they do not, a number is skipped."""
    return path.rpartition("/")[0], base_of(path).upper()


def _of_clip(clip: Clip, number: int, zone: tzinfo, shot: int | None) -> dict[str, str]:
    name = base_of(clip.main.path)
    counter = _COUNTER.search(name)
    values = {"name": name, "counter": counter[1] if counter else name, "number": str(number)}
    if clip.starts:
        local = clip.starts.astimezone(zone)
        values |= {"taken": local.strftime("%Y-%m-%d"), "time": local.strftime("%H%M%S")}
    return values if shot is None else values | {"shot": str(shot)}


def _suffix(clip: Clip, entry: Entry) -> str:
    """What a file's name has beyond the clip's: its ending, and what tells it from the clip's other files."""
    name, base = name_of(entry.path), base_of(clip.main.path)
    if name.upper().startswith(base.upper()):
        return name[len(base) :]
    return "_" + name
