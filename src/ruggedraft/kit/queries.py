"""What acts read about places."""

from ruggedraft.core.errors import ActRefused

from .models import Location

_LONGEST = 80


def place_named(name: str) -> Location:
    """A place as people call it; a new one is not off-site until somebody says so. Raises ActRefused."""
    name = " ".join(name.split())
    if not 0 < len(name) <= _LONGEST or not name.isprintable():
        raise ActRefused(f"A place has a name of 1 to {_LONGEST} signs.")
    found, _ = Location.objects.get_or_create(name=name)
    return found
