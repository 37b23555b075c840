"""Pictures have a folder that does not grow without end: what nobody looked at for longest goes first."""

from django.conf import settings
from django.db.models import Sum
from django.db.models.functions import Coalesce, TruncDate

from ruggedraft.core.pictures import PictureKind

from .keeping import pictures_kept
from .models import Parcel, Picture

_AT_ONCE = 500


def take_in_parcels() -> int:
    """Keep what stations on other machines sent. Only on the server's machine. Returns how many. Raises OSError."""
    kept, count = pictures_kept(), 0
    for parcel in Parcel.objects.order_by("pk")[:_AT_ONCE]:
        kept.keep(bytes(parcel.data))
        parcel.delete()
        count += 1
    return count


def keep_within(most: int | None = None) -> int:
    """Forget pictures until those that are left have at most so many bytes; as many as the settings say, without one.

    Small ones stay: they are few bytes, and all there is once every drive is away. Returns how many were forgotten.
    """
    most = settings.PICTURES_MOST_BYTES if most is None else most
    over = (Picture.objects.aggregate(all=Sum("size"))["all"] or 0) - most
    count = 0
    large = Picture.objects.exclude(kind=PictureKind.SMALL.value)
    by_age = large.annotate(last=Coalesce("shown_on", TruncDate("at"))).order_by("last", "-size", "pk")
    for picture in by_age.iterator() if over > 0 else ():
        _forget(picture)
        over -= picture.size
        count += 1
        if over <= 0:
            break
    return count


def _forget(picture: Picture) -> None:
    picture.delete()
    if not Picture.objects.filter(digest=picture.digest).exists():
        pictures_kept().forget(picture.digest)
