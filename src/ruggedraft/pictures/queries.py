"""What screens see of pictures."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from threading import BoundedSemaphore

from django.db.models import Exists, OuterRef, Q, QuerySet

from ruggedraft.core.cards.media import MediaFacts, kind_of
from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.core.pictures import Break, CannotBeShown, PictureKind, Place, pixels
from ruggedraft.core.sources.port import OpenFile
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.live.letting_go import let_go
from ruggedraft.rolls.footage import FileFootage, footage_of
from ruggedraft.rolls.models import ClipOpening, Roll, RollFile
from ruggedraft.rolls.queries import clips_of

from .acts.keep_pictures import see_again
from .acts.note_decoded import in_words
from .due import copies_here, undecoded
from .keeping import pictures_kept
from .models import DecodingAsked, FileDecoded, FileSeen, Parcel, Picture
from .reading import NoneHoldsIt, facts_of, of_a_copy, opened


def picture_of(roll: Roll, file_id: int, kind: PictureKind) -> bytes:
    """Raises NotThere. One that was lost, or forgotten to save room, is made again as soon as a copy is at hand."""
    file = RollFile.objects.filter(pk=file_id, roll=roll).first()
    found = Picture.objects.filter(file=file, kind=kind.value).first() if file else None
    if file is None or found is None:
        if kind is PictureKind.LIGHT:  # it may have been forgotten to save room
            FileSeen.objects.filter(file=file, light_note="").update(light_at=None)
        elif file and file.pictures.exists() and FileSeen.objects.filter(file=file, note="").exists():
            see_again(file)
        raise NotThere("There is no such picture of this file.")
    data = pictures_kept().get(found.digest) or _on_its_way(found.digest)
    if data is None:
        see_again(file)
        raise NotThere("This picture was lost. It is made again as soon as a verified copy is at hand.")
    today = now().date()
    Picture.objects.filter(Q(shown_on__lt=today) | Q(shown_on=None), pk=found.pk).update(shown_on=today)
    return data


_PATIENCE_S = 20.0
_AT_ONCE = BoundedSemaphore(2)
"""So many windows are looked for at a time: a frame of a large recording fills a processor for a second."""


def pixels_of(roll: Roll, file_id: int, place: Place) -> bytes:
    """A window on a recording, pixel for pixel, as PNG; from a verified copy that is connected to this machine.

    Raises NotThere and ActRefused with a sentence. Nothing is proven by it, and nobody is noted to have looked.
    """
    file = RollFile.objects.filter(pk=file_id, roll=roll).select_related("known_media__media").first()
    if file is None:
        raise NotThere("There is no such file on this roll.")
    here = Station.objects.filter(role="")
    copies = opened(copy for station in here for copy in copies_here(roll, station))
    facts = facts_of(file)
    let_go()  # a frame may take a while
    if not _AT_ONCE.acquire(timeout=_PATIENCE_S):
        raise ActRefused("Too many are looking pixel for pixel just now. Try again in a moment.")

    def work(one: OpenFile) -> tuple[bytes, str]:
        try:
            return pixels(one.descriptor(), file.path, facts, place), ""
        except CannotBeShown as problem:  # or the drive went
            return b"", str(problem)

    try:
        found = of_a_copy(file, copies, work)
    except NoneHoldsIt as problem:
        raise ActRefused(f"It cannot be shown pixel for pixel: {problem}.") from problem
    finally:
        _AT_ONCE.release()
    if found is None:
        raise NotThere("Connect a drive with a verified copy to the server's machine to see it pixel for pixel.")
    _, (data, why) = found
    if why:
        raise ActRefused(f"It cannot be shown pixel for pixel: {why}.")
    return data


def _on_its_way(digest: str) -> bytes | None:
    found = Parcel.objects.filter(digest=digest).values_list("data", flat=True).first()
    return None if found is None else bytes(found)


@dataclass(frozen=True)
class ClipSeen:
    """A clip of a roll, by its main file, with what there is to be seen of it.

    pictures: what each is found under. preview: id of the media with a preview that the file carries, or 0
    gone_through: pictures were made of it, as far as they can be. note: why there are fewer than there could be
    light_note: why there can be no light copy. light_forgotten: there was one, which made room for others
    """

    file: RollFile
    facts: MediaFacts
    pictures: Mapping[PictureKind, str]
    preview: int
    gone_through: bool
    note: str
    light_note: str
    light_forgotten: bool
    opened: bool
    decoded: FileDecoded | None


def clips_after(roll: Roll, after: str, most: int) -> tuple[list[ClipSeen], str | None]:
    """Clips of a roll in the order of their paths; and what to ask for to get the next, None on the last page.

    Where nothing of the roll was understood as a clip, every file whose header was read.
    """
    files = list(_with_what_is_seen(clips_of(roll).filter(path__gt=after)).order_by("path")[: most + 1])
    return _seen_of(files[:most]), files[most - 1].path if len(files) > most else None


def seen_of(files: Iterable[int]) -> dict[int, ClipSeen]:
    """Files (ids) of any rolls, by their ids; each with its roll."""
    rows = _with_what_is_seen(RollFile.objects.filter(pk__in=list(files))).select_related("roll")
    return {one.file.pk: one for one in _seen_of(list(rows))}


def _with_what_is_seen(files: QuerySet[RollFile]) -> QuerySet[RollFile]:
    opened = Exists(ClipOpening.objects.filter(file=OuterRef("pk")))
    return files.select_related("seen", "decoded").annotate(opened=opened)


def _seen_of(files: Sequence[RollFile]) -> list[ClipSeen]:
    footage, pictures = footage_of(files), _pictures_of(files)
    return [_seen(file, footage.get(file.pk), pictures.get(file.pk, {})) for file in files]


def _seen(file: RollFile, footage: FileFootage | None, pictures: Mapping[PictureKind, str]) -> ClipSeen:
    gone_through: FileSeen | None = getattr(file, "seen", None)
    return ClipSeen(
        file,
        footage.facts if footage else MediaFacts(kind_of(file.path)),
        pictures,
        footage.preview if footage else 0,
        gone_through is not None,
        gone_through.note if gone_through else "",
        gone_through.light_note if gone_through else "",
        _forgotten(gone_through, pictures),
        bool(getattr(file, "opened", False)),
        getattr(file, "decoded", None),
    )


def said_of_break(found: FileDecoded) -> str:
    """Of a recording of which the decoder complains (with its file), as a sentence without its full stop."""
    return in_words(found.file.path, Break(*found.breaks[0]), found.in_all, facts_of(found.file))


def _forgotten(seen: FileSeen | None, pictures: Mapping[PictureKind, str]) -> bool:
    """Whether a light copy was made, and made room since."""
    made = seen is not None and seen.light_at is not None and not seen.light_note
    return made and PictureKind.LIGHT not in pictures


def _pictures_of(files: Iterable[RollFile]) -> dict[int, dict[PictureKind, str]]:
    """What there is of each file, by its id: kinds, and what each is found under. In one query."""
    found: dict[int, dict[PictureKind, str]] = {}
    rows = Picture.objects.filter(file__in=list(files)).values_list("file_id", "kind", "digest")
    for file, kind, digest in rows:
        found.setdefault(file, {})[PictureKind(kind)] = digest
    return found


@dataclass(frozen=True)
class Decoding:
    """How far a roll is decoded, since somebody asked for it. recordings: of it; left: of them; breaking: so many break

    unknown: so many could not be decoded here, for reasons that say nothing against them
    """

    asked: DecodingAsked
    recordings: int
    left: int
    breaking: int
    unknown: int


def decoding_of(roll: Roll) -> Decoding | None:
    """None where nobody asked."""
    asked = DecodingAsked.objects.filter(roll=roll).select_related("by").first()
    if asked is None:
        return None
    since = FileDecoded.objects.filter(file__roll=roll, at__gte=asked.at)
    done, breaking = since.count(), since.filter(in_all__gt=0).count()
    left = undecoded().filter(roll=roll).count()
    return Decoding(asked, done + left, left, breaking, since.filter(in_all=0).exclude(note="").count())
