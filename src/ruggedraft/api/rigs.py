"""A rig's cards lined up: shots across, cameras down, the odd clip seen at once."""

from django.http import HttpRequest
from ninja import Router, Schema

from ruggedraft.offloads.rigs import RigNow, rig_now

from .current import production
from .shapes import CameraOut

router = Router(tags=["bench"])


class RigClipOut(Schema):
    """starts: seconds since 1970-01-01 UTC by the rig's clock. shot: its number, null if in none. odd: its kind."""

    name: str
    path: str
    starts: float
    length: float
    shot: int | None
    odd: str


class RigRowOut(Schema):
    """A camera's card. missing: numbers of the shots it has no clip of. ahead_s: its clock against the rig's."""

    camera: CameraOut
    card_id: int
    label: str
    slot: str
    ahead_s: float
    clips: list[RigClipOut]
    missing: list[int]


class ShotOut(Schema):
    number: int
    starts: float
    length: float


class RigOut(Schema):
    """odd: sentences, in order of time."""

    name: str
    cameras: list[str]
    rows: list[RigRowOut]
    shots: list[ShotOut]
    odd: list[str]

    @staticmethod
    def of(now: RigNow) -> "RigOut":
        lined = now.lined_up
        letters = list(now.rig.cameras.values_list("letter", flat=True))
        return RigOut(
            name=now.rig.name,
            cameras=letters,
            rows=_rows(now),
            shots=[ShotOut(number=s.number, starts=s.start, length=s.length) for s in lined.shots] if lined else [],
            odd=[odd.sentence + "." for odd in lined.odd] if lined else [],
        )


@router.get("/rigs", response=list[RigOut])
def rigs(request: HttpRequest) -> list[RigOut]:
    """Every rig of the production of which at least one card is in a reader."""
    found = (rig_now(rig) for rig in production().rigs.all())
    return [RigOut.of(now) for now in found if now.cards]


def _rows(now: RigNow) -> list[RigRowOut]:
    lined = now.lined_up
    shot_of = (
        {(clip.camera, clip.path): shot.number for shot in lined.shots for clip in shot.clips.values()} if lined else {}
    )
    odd_of = {(odd.camera, odd.clip.path): odd for odd in lined.odd if odd.clip} if lined else {}
    missing = [(odd.camera, odd.shot) for odd in lined.odd if odd.clip is None and odd.shot] if lined else []
    rows = []
    for card in now.cards:
        letter = card.camera.letter
        ahead = lined.ahead_s.get(letter, 0.0) if lined else 0.0
        rows.append(
            RigRowOut(
                camera=CameraOut.of(card.camera), card_id=card.card.pk, label=card.card.label, slot=card.slot,
                ahead_s=round(ahead, 2), missing=[shot for camera, shot in missing if camera == letter],
                clips=[
                    RigClipOut(
                        name=clip.name, path=clip.main.path, starts=clip.starts.timestamp() - ahead,
                        length=clip.duration_s, shot=_shot(letter, clip.main.path, shot_of, odd_of),
                        odd=odd_of[letter, clip.main.path].kind if (letter, clip.main.path) in odd_of else "",
                    )
                    for clip in card.clips
                ],
            )
        )  # fmt: skip
    return rows


def _shot(letter: str, path: str, shot_of: dict, odd_of: dict) -> int | None:
    odd = odd_of.get((letter, path))
    return odd.shot if odd else shot_of.get((letter, path))
