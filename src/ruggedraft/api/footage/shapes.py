"""The shapes in which clips and their pictures are seen."""

from pydantic import BaseModel

from ruggedraft.core.cards.media import MediaKind
from ruggedraft.core.pictures import PictureKind
from ruggedraft.pictures.queries import ClipSeen


class RollClip(BaseModel):
    """A clip of a roll, by its main file, and what its header says as far as it does.

    id: of the file, for `/footage/rolls/TAG/clips/ID/KIND`. pictures: what each is known by, by kind; one that is known
    by something else is another picture. preview: an id for `/footage/ID/preview`, or 0
    duration_s: seconds. rate: frames a second as a fraction. gone_through: pictures of it were made, as far as they can
    be. note: why there are fewer than there could be. opened: somebody opened it
    """

    id: int
    path: str
    size: int
    kind: MediaKind
    pictures: dict[PictureKind, str]
    preview: int
    gone_through: bool
    note: str
    opened: bool
    body: str
    duration_s: float | None
    width: int
    height: int
    rate: str
    codec: str
    timecode: str
    channels: int
    sample_rate: int

    @classmethod
    def of(cls, seen: ClipSeen) -> "RollClip":
        facts = seen.facts
        return cls(
            id=seen.file.pk, path=seen.file.path, size=seen.file.size, kind=facts.kind, pictures=dict(seen.pictures),
            preview=seen.preview, gone_through=seen.gone_through, note=seen.note, opened=seen.opened, body=facts.body,
            duration_s=facts.duration_s, width=facts.width, height=facts.height, rate=facts.rate, codec=facts.codec,
            timecode=facts.timecode, channels=facts.channels, sample_rate=facts.sample_rate,
        )  # fmt: skip


class RollClips(BaseModel):
    """In the order of their paths. after: hand this in to get the next; null on the last page"""

    clips: list[RollClip]
    after: str | None
