"""From a plan's template to a folder on a store."""

import re
import string
from collections.abc import Mapping

from ..confinement import parts_of
from ..errors import PlanError

FIELDS = {
    "production": "the production's short name",
    "date": "the shoot day as YYYY-MM-DD",
    "camera": "the camera's letter",
    "roll": "the roll's tag, such as A012",
    "card": "the card's label",
}
_FORBIDDEN = re.compile(r'[/\\:*?"<>|\x00-\x1f\x7f]')
"""Characters that FAT, exFAT or NTFS cannot hold in a name (Microsoft's 'Naming Files, Paths, and Namespaces'; from
memory), and the slash. A folder named by us must fit every store."""


def render_folder(template: str, fields: Mapping[str, str]) -> str:
    """The folder of a roll, relative to a store's root, with `/` between parts.

    Raises PlanError with a sentence for the person who wrote the plan.

    >>> render_folder("{production}/{date}/{roll}", {"production": "Heron", "date": "2026-05-14", "roll": "A012"})
    'Heron/2026-05-14/A012'
    """
    if "{roll}" not in template:
        raise PlanError("The folder template must contain {roll}, or two rolls would end up in one folder.")
    try:
        pieces = list(string.Formatter().parse(template))
    except ValueError as error:
        raise PlanError(f"The folder template '{template}' cannot be read: {error}.") from error
    path = "".join(literal + _value(field, form, fields) for literal, field, form, _ in pieces)
    return "/".join(_checked(part, template) for part in path.split("/"))


def _value(field: str | None, form: str | None, fields: Mapping[str, str]) -> str:
    if field is None:
        return ""
    if field not in FIELDS or form:
        known = ", ".join("{" + name + "}" for name in FIELDS)
        raise PlanError(f"The folder template has a field '{field}' that does not exist; there are {known}.")
    value = _FORBIDDEN.sub("-", fields[field]).strip(" .")
    if not value:
        raise PlanError(f"The folder template uses {{{field}}}, which is empty here.")
    return value


def _checked(part: str, template: str) -> str:
    if _FORBIDDEN.search(part) or part != part.strip(" .") or not part or len(part.encode()) > 255:
        raise PlanError(f"The folder template '{template}' gives a folder '{part}', which not every store can hold.")
    return parts_of(part)[0]


def roll_tag(prefix: str, number: int, digits: int) -> str:
    """A roll's tag. The number keeps at least `digits` digits so that tags sort; it grows past them.

    A prefix that ends in a digit is set apart, so that camera R1 and camera R11 cannot be confused.

    >>> roll_tag("A", 12, 3), roll_tag("A", 1000, 3), roll_tag("R1", 1, 3)
    ('A012', 'A1000', 'R1-001')
    """
    if number < 1 or digits < 2:
        raise PlanError("Roll numbers start at 1 and have at least two digits.")
    gap = "-" if prefix[-1:].isdigit() else ""
    return f"{prefix}{gap}{number:0{digits}d}"
