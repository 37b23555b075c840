"""Labels for the media of a set."""

from ruggedraft.sets.models import MediaSet

from .documents.labels import Label


def set_labels(one: MediaSet, site: str) -> list[Label]:
    """One for each medium: its name, its rolls, and the address of the sets in the square code."""
    address = f"{site}/{one.production.slug}/sets"
    made = []
    for volume in one.volumes.select_related("of").prefetch_related("rolls__roll").order_by("number"):
        tags = sorted(of.roll.tag for of in volume.rolls.all())
        span = tags[0] if len(tags) == 1 else f"{tags[0]} … {tags[-1]}" if tags else ""
        made.append(Label(volume.name, "", address, f"{one.production.name}: {span}"[:60]))
    return made
