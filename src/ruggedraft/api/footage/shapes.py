"""The shapes in which clips and their pictures are seen."""

from datetime import datetime

from pydantic import BaseModel

from ruggedraft.core.cards.media import MediaFacts, MediaKind, timecode_after
from ruggedraft.core.pictures import PictureKind, carried
from ruggedraft.pictures.models import FileDecoded
from ruggedraft.pictures.queries import ClipSeen


class BreakOut(BaseModel):
    """Where a decoder complains. timecode: as the recording counts, where it does; else empty. track: from 1

    at_s: seconds from its beginning, null where that is not known. said: in the decoder's words
    """

    timecode: str
    at_s: float | None
    track: int
    said: str


class DecodedOut(BaseModel):
    """What came of decoding all of a recording. frames: that were decoded. breaks: the first of them; in_all: how many

    note: why it was not decoded, wholly or at all; without breaks, nothing is said against it by that
    """

    frames: int
    breaks: list[BreakOut]
    in_all: int
    note: str
    at: datetime

    @classmethod
    def of(cls, found: FileDecoded, facts: MediaFacts) -> "DecodedOut":
        return cls(
            frames=found.frames, in_all=found.in_all, note=found.note, at=found.at,
            breaks=[
                BreakOut(
                    timecode="" if at is None else timecode_after(facts.timecode, facts.rate, at),
                    at_s=at, track=track + 1, said=said,
                )
                for at, track, said in found.breaks
            ],
        )  # fmt: skip


class RollClip(BaseModel):
    """A clip of a roll, by its main file, and what its header says as far as it does.

    id: of the file, for `/footage/rolls/TAG/clips/ID/KIND`. pictures: what each is known by, by kind; one that is known
    by something else is another picture. preview: an id for `/footage/ID/preview`, or 0
    duration_s: seconds. rate: frames a second as a fraction. gone_through: pictures of it were made, as far as they can
    be. note: why there are fewer than there could be; light_note: why there can be no light copy
    light_forgotten: there was one, which made room for others; asked for, it is made again
    carried: what is seen of it is the picture that a RAW file carries. opened: somebody opened it
    decoded: what came of decoding all of it, null where nobody asked or it was not done yet
    """

    id: int
    path: str
    size: int
    kind: MediaKind
    pictures: dict[PictureKind, str]
    preview: int
    gone_through: bool
    note: str
    light_note: str
    light_forgotten: bool
    carried: bool
    opened: bool
    body: str
    lens: str
    duration_s: float | None
    width: int
    height: int
    rate: str
    codec: str
    timecode: str
    channels: int
    sample_rate: int
    decoded: DecodedOut | None

    @classmethod
    def of(cls, seen: ClipSeen) -> "RollClip":
        facts = seen.facts
        return cls(
            id=seen.file.pk, path=seen.file.path, size=seen.file.size, kind=facts.kind, pictures=dict(seen.pictures),
            preview=seen.preview, gone_through=seen.gone_through, note=seen.note, light_note=seen.light_note,
            light_forgotten=seen.light_forgotten, carried=carried(seen.file.path, facts) is not None,
            opened=seen.opened, body=facts.body, lens=facts.lens, duration_s=facts.duration_s, width=facts.width,
            height=facts.height, rate=facts.rate, codec=facts.codec, timecode=facts.timecode, channels=facts.channels,
            sample_rate=facts.sample_rate,
            decoded=DecodedOut.of(seen.decoded, facts) if seen.decoded else None,
        )  # fmt: skip


class RollClips(BaseModel):
    """In the order of their paths. after: hand this in to get the next; null on the last page"""

    clips: list[RollClip]
    after: str | None
