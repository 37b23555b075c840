"""What screens read about footage."""

from collections.abc import Iterable

from ruggedraft.core.errors import NotThere

from .models import Gear, Media


def preview_of(media_id: int) -> bytes:
    """An embedded preview, as JPEG. Raises NotThere."""
    found = Media.objects.filter(pk=media_id).exclude(preview=None).values_list("preview", flat=True).first()
    if found is None:
        raise NotThere("There is no picture of this file.")
    return bytes(found)


def gear_named(names: Iterable[str]) -> dict[str, int]:
    """By name, the id of each; what was not known is from now on. Inside the caller's transaction."""
    wanted = {name for name in names if name}
    Gear.objects.bulk_create((Gear(name=name) for name in sorted(wanted)), ignore_conflicts=True)
    return dict(Gear.objects.filter(name__in=wanted).values_list("name", "pk"))


def gear_called(word: str) -> list[int]:
    """Ids of those in whose name a word stands."""
    return list(Gear.objects.filter(name__contains=word).values_list("pk", flat=True))
