"""Templates of folders and names: literal text and fields such as `{date}`, `{number:4}` or `{camera:lower}`."""

import re
import string
from collections.abc import Mapping
from dataclasses import dataclass

from ..errors import PlanError

ROLL_FIELDS = {
    "production": "the production's short name",
    "date": "the shoot day as YYYY-MM-DD (ISO 8601)",
    "year": "its year, four digits",
    "month": "its month, two digits",
    "day": "its day, two digits",
    "camera": "the camera's letter",
    "model": "the camera's name",
    "roll": "the roll's tag, such as A012",
    "card": "the card's label",
    "job": "the job, as the plan says",
    "fleet": "what several jobs belong to, such as a client or a series, as the plan says",
    "text": "the plan's free text",
}
CLIP_FIELDS = {
    "name": "the clip's own name, as the camera gave it",
    "counter": "the camera's own counter: the digits at the name's end",
    "number": "a running number from the plan's start value",
    "taken": "the clip's own day as YYYY-MM-DD",
    "time": "the clip's own time as HHMMSS",
    "shot": "the rig's shot number",
}
FIELDS = ROLL_FIELDS | CLIP_FIELDS
NUMBERS = frozenset({"counter", "number", "shot", "year", "month", "day"})

FORBIDDEN = re.compile(r'[/\\:*?"<>|\x00-\x1f\x7f]')
"""The slash, and characters that FAT, exFAT or NTFS cannot hold: a folder named by us must fit every store.

Microsoft, 'exFAT file system specification', 7.7.3 (Table 35); 'Naming Files, Paths, and Namespaces'. Both from memory.
"""
_SPEC = re.compile(r"(?P<digits>[1-9]?)(?P<case>upper|lower|)")


@dataclass(frozen=True)
class _Field:
    field: str
    digits: int
    case: str

    def value(self, values: Mapping[str, str]) -> str:
        """What stands here, for these values of fields. Raises PlanError where the value is empty."""
        value = FORBIDDEN.sub("-", values.get(self.field, "")).strip(" .")
        if not value:
            raise PlanError(f"The plan uses {{{self.field}}}, which is empty here.")
        if self.digits:
            value = value.zfill(self.digits)
        return value.upper() if self.case == "upper" else value.lower() if self.case == "lower" else value


@dataclass(frozen=True)
class Template:
    """A parsed template. Raises PlanError, with a sentence for the person who wrote it, where it cannot be used."""

    text: str
    pieces: tuple[str | _Field, ...]

    @classmethod
    def parse(cls, text: str, allowed: Mapping[str, str]) -> "Template":
        """allowed: the fields that may be used, with what each means. Raises PlanError."""
        try:
            found = list(string.Formatter().parse(text))
        except ValueError as error:
            raise PlanError(f"The template '{text}' cannot be read: {error}.") from error
        pieces: list[str | _Field] = []
        for literal, field, spec, conversion in found:
            pieces += [literal] if literal else []
            if field is not None:
                pieces.append(_field(field, spec or "", conversion, allowed))
        return cls(text, tuple(pieces))

    @property
    def fields(self) -> frozenset[str]:
        """Names of the fields that it uses."""
        return frozenset(piece.field for piece in self.pieces if isinstance(piece, _Field))

    def render(self, values: Mapping[str, str]) -> str:
        """A relative path with `/` between parts."""
        path = "".join(piece if isinstance(piece, str) else piece.value(values) for piece in self.pieces)
        for part in path.split("/"):
            if not part or part != part.strip(" .") or FORBIDDEN.search(part) or len(part.encode()) > 255:
                raise PlanError(f"The template '{self.text}' gives a name '{part}', which not every store can hold.")
        return path


def _field(field: str, spec: str, conversion: str | None, allowed: Mapping[str, str]) -> _Field:
    if field not in allowed or conversion:
        known = ", ".join("{" + name + "}" for name in allowed)
        raise PlanError(f"The template has a field '{field}' that does not exist here; there are {known}.")
    found = _SPEC.fullmatch(spec)
    if found is None or (found["digits"] and field not in NUMBERS):
        raise PlanError(
            f"'{{{field}:{spec}}}' is not understood: a number may have digits, as {{number:4}}, "
            "and a word a case, as {camera:lower}."
        )
    return _Field(field, int(found["digits"] or 0), found["case"])
