from collections.abc import Mapping
from typing import Any

from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.productions.models import Production

from ..models import SavedView

_MOST, _LONGEST = 20, 60


def keep_view(person: Person, production: Production, name: str, sought: Mapping[str, Any]) -> SavedView:
    """For oneself alone, so that nothing of it is journalled. One of the same name is replaced.

    sought: what the Tally is narrowed to, as the API takes it
    """
    require(person, May.SEE_STATE, production.pk)
    name = " ".join(name.split())
    if not name or len(name) > _LONGEST:
        raise ActRefused(f"A view has a name of 1 to {_LONGEST} characters.")
    if not sought:
        raise ActRefused("This is the whole Tally: narrow it first, then keep that.")
    mine = SavedView.objects.filter(person=person, production=production)
    if mine.exclude(name=name).count() >= _MOST:
        raise ActRefused(f"You keep {_MOST} views here, which is the most: let go of one first.")
    view, _ = SavedView.objects.update_or_create(
        person=person, production=production, name=name, defaults={"sought": dict(sought)}
    )
    return view


def drop_view(person: Person, production: Production, view_id: int) -> None:
    """Raises NotThere of whatever is not one's own."""
    require(person, May.SEE_STATE, production.pk)
    gone, _ = SavedView.objects.filter(person=person, production=production, pk=view_id).delete()
    if not gone:
        raise NotThere("There is no such view of yours here.")
