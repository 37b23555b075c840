from django.db import transaction

from ruggedraft.core.cards import Clip, ClipKind, FileRole
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.contents import described_card
from ruggedraft.intake.models import Card, CardListing
from ruggedraft.intake.queries import present_insertion
from ruggedraft.journal.writing import write
from ruggedraft.rolls.models import Roll, RollFile
from ruggedraft.runs.queue import add_to_queue, is_open

from ..models import Join


@transaction.atomic
def ask_join(person: Person, card: Card, path: str) -> None:
    """Have the chapters of a split recording joined on every store that holds them, as an extra file beside them.

    path: the clip's first file on the card, in the ledger's form
    """
    require(person, May.OFFLOAD, card.owner.production_id)
    stay = present_insertion(card)
    listing = card.listings.order_by("-id").first()
    if stay is None or listing is None:
        raise ActRefused(f"Card {card.label} is in no reader: put it into one.")
    clip = _clip(listing, path)
    roll, files = _offloaded(card, clip)
    subject = f"joining from file {files[0]}"
    if is_open(subject):
        raise ActRefused(f"The files of {clip.name} are being joined already.")
    station = stay.reader.station
    write("ask join", roll.tag, f"{len(files)} files of {clip.name} in {roll.tag} are to be joined.", person=person,
          origin=station.name, production=roll.production_id)  # fmt: skip
    name = clip.name[:200]
    add_to_queue(Join(subject=subject, roll=roll, station=station, person=person, name=name, files=files))


def _clip(listing: CardListing, path: str) -> Clip:
    """The recording in several files that begins here. Raises ActRefused."""
    clips = described_card(listing)[1].clips
    clip = next((clip for clip in clips if clip.main.path == from_ledger(path)), None)
    if clip is None or clip.kind is not ClipKind.VIDEO or not clip.of_role(FileRole.PART):
        raise ActRefused(f"{path} is not a recording in several files.")
    return clip


def _offloaded(card: Card, clip: Clip) -> tuple[Roll, list[int]]:
    """The card's roll, and ids of the clip's files in it, in order. Raises ActRefused."""
    roll = card.rolls.order_by("-id").first()
    known = dict(RollFile.objects.filter(roll=roll).values_list("path", "pk")) if roll else {}
    chapters = [to_ledger(path) for path in (clip.main.path, *(part.path for part in clip.of_role(FileRole.PART)))]
    if roll is None or not known.keys() >= set(chapters):
        raise ActRefused(f"{clip.name} is not offloaded yet: offload the card first.")
    return roll, [known[path] for path in chapters]
