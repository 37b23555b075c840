"""What acts read about places."""

from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.core.wording import is_name, one_line

from .models import Location

_LONGEST = 80


def place_named(name: str) -> Location:
    """A place as people call it; a new one is not off-site until somebody says so. Raises ActRefused."""
    name = one_line(name)
    if not is_name(name, _LONGEST):
        raise ActRefused(f"A place has a name of 1 to {_LONGEST} signs.")
    found, _ = Location.objects.get_or_create(name=name)
    return found


def place_known(name: str) -> Location:
    """A place that somebody named before. Raises NotThere."""
    found = Location.objects.filter(name=one_line(name)).first()
    if found is None:
        raise NotThere(f"There is no place '{name}'.")
    return found
