"""What of rolls is never divided: a clip with all its files, a picture's RAW and JPEG."""

from collections.abc import Collection, Sequence

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.sources import to_ledger
from ruggedraft.core.wording import counted
from ruggedraft.rolls.clips import described
from ruggedraft.rolls.models import Roll, RollFile


def units_of(rolls: Sequence[Roll], placed: Collection[int]) -> dict[str, list[RollFile]]:
    """Files that have no place yet, by their unit's name: the roll's tag and the path of the clip's main file.

    rolls: with camera and production. placed: ids of files. Raises ActRefused where not all of a roll was read.
    """
    found: dict[str, list[RollFile]] = {}
    clips = described(rolls)
    for roll in rolls:
        rows = list(roll.files.all())
        unread = sum(not row.checksum for row in rows)
        if unread:
            which = counted(unread, "file was", "files were")
            raise ActRefused(f"Of {roll.tag} {which} never read off the card: offload it again first.")
        main = {
            to_ledger(entry.path): to_ledger(clip.main.path) for clip in clips[roll.pk].clips for entry in clip.entries
        }
        for row in rows:
            if row.pk not in placed:
                found.setdefault(f"{roll.tag}/{main.get(row.path, row.path)}", []).append(row)
    return found
