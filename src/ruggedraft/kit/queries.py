"""What acts read about places."""

from ruggedraft.core.errors import ActRefused
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
