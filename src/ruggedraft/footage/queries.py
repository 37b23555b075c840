"""What screens read about footage."""

from ruggedraft.core.errors import NotThere

from .models import Media


def preview_of(media_id: int) -> bytes:
    """An embedded preview, as JPEG. Raises NotThere."""
    found = Media.objects.filter(pk=media_id).exclude(preview=None).values_list("preview", flat=True).first()
    if found is None:
        raise NotThere("There is no picture of this file.")
    return bytes(found)
