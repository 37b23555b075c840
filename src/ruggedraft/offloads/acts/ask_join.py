from django.db import transaction

from ruggedraft.core.cards import ClipKind, Role
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.contents import described_card
from ruggedraft.intake.models import Card
from ruggedraft.intake.queries import present_insertion
from ruggedraft.journal.writing import write
from ruggedraft.rolls.models import RollFile
from ruggedraft.runs.queue import add_to_queue, is_open

from ..models import Join


@transaction.atomic
def ask_join(person: Person, card: Card, path: str) -> None:
    """Have the chapters of a split recording joined on every store that holds them, as an extra file beside them.

    path: the clip's first file on the card, in the ledger's form
    """
    require(person, May.OFFLOAD)
    stay = present_insertion(card)
    listing = card.listings.order_by("-id").first()
    if stay is None or listing is None:
        raise ActRefused(f"Card {card.label} is in no reader: put it into one.")
    clips = (clip for clip in described_card(listing)[1].clips if clip.main.path == from_ledger(path))
    clip = next(clips, None)
    chapters = [] if clip is None else [clip.main.path, *(entry.path for entry in clip.of_role(Role.PART))]
    if clip is None or clip.kind is not ClipKind.VIDEO or len(chapters) < 2:
        raise ActRefused(f"{path} is not a recording in several files.")
    roll = card.rolls.order_by("-id").first()
    files = {file.path: file for file in RollFile.objects.filter(roll=roll)} if roll else {}
    held = [files.get(one) for one in map(to_ledger, chapters)]
    if roll is None or None in held:
        raise ActRefused(f"{clip.name} is not offloaded yet: offload the card first.")
    ids = [file.pk for file in held if file]
    subject = f"joining from file {ids[0]}"
    if is_open(subject):
        raise ActRefused(f"The files of {clip.name} are being joined already.")
    station = stay.reader.station
    write("ask join", roll.tag, f"{len(held)} files of {clip.name} in {roll.tag} are to be joined.", person=person,
          origin=station.name)  # fmt: skip
    add_to_queue(
        Join(subject=subject, roll=roll, station=station, person=person, name=clip.name[:200],
             files=ids)
    )  # fmt: skip
