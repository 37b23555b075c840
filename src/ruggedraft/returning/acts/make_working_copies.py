from collections.abc import Sequence

from django.db import transaction
from django.db.models import Q

from ruggedraft.core.cards.media import MediaKind
from ruggedraft.core.cards.media.kinds import VIDEO
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.wording import counted
from ruggedraft.core.working import HEIGHTS, Recipe
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.productions.models import Production
from ruggedraft.rolls.queries import rolls_named
from ruggedraft.runs.queue import add_to_queue, is_open

from ..models import MakingOfCopies
from ..places import checked_folder, refuse_away, subject_in

_NAMED_SO = rf"\.({'|'.join(sorted(VIDEO))})$"


@transaction.atomic
def make_working_copies(
    person: Person, production: Production, station: Station, folder: str, tags: Sequence[str], recipe: Recipe
) -> list[MakingOfCopies]:
    """Have copies to work with made of the recordings of rolls, in a folder of each roll and recipe.

    What is there already and matches its recording is not made again. Sound alone needs none.
    Raises ActRefused, NotThere.
    """
    require(person, May.OFFLOAD, production.pk)
    folder = checked_folder(folder)
    refuse_away(station)
    if recipe.height not in HEIGHTS:
        raise ActRefused("Pictures are made 540, 720 or 1080 lines high, or stay as recorded.")
    runs = []
    for roll in rolls_named(production, tags):
        kind = Q(known_media__media__facts__kind=str(MediaKind.VIDEO)) | Q(known_media=None, path__iregex=_NAMED_SO)
        files = list(roll.files.filter(kind).exclude(checksum="").order_by("path").values_list("pk", flat=True))
        if not files:
            raise ActRefused(f"There is no recording with pictures on {roll.tag} that was read off its card.")
        subject = subject_in(station, folder, "working copies", roll)
        if is_open(subject):
            raise ActRefused(f"Working copies of {roll.tag} are being made in {folder} already.")
        run = MakingOfCopies(
            subject=subject, roll=roll, station=station, person=person, folder=folder, files=files,
            codec=recipe.codec.value, height=recipe.height, burn_in=recipe.burn_in,
        )  # fmt: skip
        add_to_queue(run)
        what = f"Working copies of {counted(len(files), 'recording')} of {roll.tag}"
        write("ask working copies", roll.tag, f"{what} are to be made in {folder} on {station.name}.",
              person=person, origin=station.name, production=production.pk)  # fmt: skip
        runs.append(run)
    return runs
