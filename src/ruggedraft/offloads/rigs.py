"""The cards of a rig that are in readers now, lined up."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from ruggedraft.core.cards import Clip, ClipKind
from ruggedraft.core.rigs import Alignment, Odd, RigClip, align, arrange
from ruggedraft.intake.contents import described_card
from ruggedraft.intake.models import Card, CardListing, Insertion
from ruggedraft.productions.models import Camera, Production, Rig

from .models import Offload


@dataclass(frozen=True)
class RigCard:
    """A rig's card in a reader, with what it recorded."""

    camera: Camera
    card: Card
    slot: str
    clips: tuple[Clip, ...]


@dataclass(frozen=True)
class RigNow:
    """A rig as it lies in the readers. lined_up: None while fewer than two of its cards are there."""

    rig: Rig
    cards: tuple[RigCard, ...]
    lined_up: Alignment | None

    def odd_of(self, letter: str, going: Iterable[str] | None = None) -> list[Odd]:
        """What is odd about one camera's card. going: main paths of the clips that would be taken, None for all."""
        if self.lined_up is None:
            return []
        wanted = None if going is None else set(going)
        return [
            odd
            for odd in self.lined_up.odd
            if odd.camera == letter and (odd.clip is None or wanted is None or odd.clip.path in wanted)
        ]


def rig_of(camera: Camera) -> Rig | None:
    return camera.rigs.order_by("pk").first()


def rigs_of(production: Production) -> list[RigNow]:
    """Every rig of a production, as it lies in the readers."""
    return [rig_now(rig) for rig in production.rigs.all()]


def rig_now(rig: Rig) -> RigNow:
    cards = tuple(_cards(rig))
    recorded = {card.camera.letter: [_rig_clip(card.camera, clip) for clip in card.clips] for card in cards}
    return RigNow(rig, cards, align(recorded) if len(cards) > 1 else None)


def _cards(rig: Rig) -> Iterable[RigCard]:
    """One card a camera: of two that are in readers, the one that came last."""
    stays = Insertion.objects.filter(removed_at=None, card__camera__rigs=rig)
    by_camera: dict[int, Insertion] = {}
    for stay in stays.select_related("card__camera__production", "reader").order_by("pk"):
        if stay.card:
            by_camera[stay.card.owner.pk] = stay
    for stay in sorted(by_camera.values(), key=_letter):
        listing = stay.listings.select_related("card__camera__production", "insertion").order_by("-id").first()
        if listing and stay.card:
            yield RigCard(stay.card.owner, stay.card, stay.reader.name, _recorded(listing))


def _letter(stay: Insertion) -> str:
    return stay.card.owner.letter if stay.card else ""


def _recorded(listing: CardListing) -> tuple[Clip, ...]:
    return tuple(clip for clip in described_card(listing)[1].clips if clip.kind is ClipKind.VIDEO and clip.starts)


def _rig_clip(camera: Camera, clip: Clip) -> RigClip:
    start = clip.starts.timestamp() if clip.starts else 0.0
    return RigClip(camera.letter, clip.name, start, clip.duration_s, clip.main.path)


def shots_of(listing: CardListing) -> dict[str, int]:
    """The rig's shot numbers of the clips on a card, by main path; empty where its camera is in no rig.

    Shots taken before keep their numbers; new ones go on after the highest.
    """
    camera = listing.card.camera if listing.card else None
    rig = rig_of(camera) if camera else None
    if camera is None or rig is None:
        return {}
    now = rig_now(rig)
    if now.lined_up is None:
        return {clip.main.path: number for number, clip in enumerate(_recorded(listing), rig.first_shot)}
    numbers = arrange(now.lined_up, start=rig.first_shot, taken=_taken(rig))
    return {path: number for (letter, path), number in numbers.items() if letter == camera.letter}


def _taken(rig: Rig) -> dict[str, int]:
    runs: Sequence[tuple[str, dict[str, Any]]] = list(
        Offload.objects.filter(roll__camera__rigs=rig).order_by("pk").values_list("roll__camera__letter", "naming")
    )
    return {f"{letter}/{path}": number for letter, naming in runs for path, number in naming.get("shots", {}).items()}
