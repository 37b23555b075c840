from collections.abc import Mapping
from typing import Any

from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.productions.models import Production

from ..models import SavedView, ViewOf

_MOST, _LONGEST = 20, 60
_SEES = {ViewOf.TALLY: May.SEE_STATE, ViewOf.FIND: May.SEE_WORK}
_NOTHING = {
    ViewOf.TALLY: "This is the whole Tally: narrow it first, then keep that.",
    ViewOf.FIND: "Nothing is asked here: say what is looked for, then keep that.",
}


def keep_view(
    person: Person, production: Production, name: str, sought: Mapping[str, Any], place: ViewOf = ViewOf.TALLY
) -> SavedView:
    """For oneself alone, so that nothing of it is journalled. One of the same name is replaced.

    sought: what the Tally is narrowed to, or Find is asked, as the API takes it there
    """
    require(person, _SEES[place], production.pk)
    name = " ".join(name.split())
    if not name or len(name) > _LONGEST:
        raise ActRefused(f"A view has a name of 1 to {_LONGEST} characters.")
    if not sought:
        raise ActRefused(_NOTHING[place])
    mine = SavedView.objects.filter(person=person, production=production, place=place)
    if mine.exclude(name=name).count() >= _MOST:
        raise ActRefused(f"You keep {_MOST} views here, which is the most: let go of one first.")
    view, _ = SavedView.objects.update_or_create(
        person=person, production=production, place=place, name=name, defaults={"sought": dict(sought)}
    )
    return view


def drop_view(person: Person, production: Production, view_id: int) -> None:
    """Raises NotThere of whatever is not one's own."""
    require(person, May.SEE_STATE, production.pk)
    gone, _ = SavedView.objects.filter(person=person, production=production, pk=view_id).delete()
    if not gone:
        raise NotThere("There is no such view of yours here.")
