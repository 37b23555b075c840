"""A roll's clips for editing, in the order in which they were shot."""

from zoneinfo import ZoneInfo

from ruggedraft.core.cards import Clip
from ruggedraft.core.cards.media import MediaFacts, kind_of
from ruggedraft.core.manifests.clip_list import ListedClip
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.core.stores import StoreKind
from ruggedraft.core.stores.port import beneath
from ruggedraft.rolls.clips import described
from ruggedraft.rolls.models import Roll, RollFile


def clips_listed(roll: Roll) -> list[ListedClip]:
    """roll: with camera and production. Where copies lie in different folders, by the one that most of them have."""
    as_files = roll.copies.exclude(store__kind=StoreKind.PACKAGES)
    folders = list(as_files.order_by("pk").values_list("folder", flat=True))
    folder = max(folders, key=folders.count) if folders else ""
    zone, files = ZoneInfo(roll.production.time_zone), {file.path: file for file in roll.files.all()}
    clips = described([roll])[roll.pk].clips
    return [_listed(clip, files[to_ledger(clip.main.path)], folder, zone) for clip in clips]


def _listed(clip: Clip, file: RollFile, folder: str, zone: ZoneInfo) -> ListedClip:
    starts = clip.starts.astimezone(zone).isoformat(timespec="seconds") if clip.starts else ""
    place = beneath(from_ledger(folder), from_ledger(file.kept_as or file.path))
    facts = clip.facts or MediaFacts(kind_of(file.path))
    return ListedClip(clip.name, place, starts, file.size, file.checksum, facts)
