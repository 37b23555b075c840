"""Choosing among a card's clips: all, new, a stretch of time, camera folders, kinds, or picked by hand."""

from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass
from functools import cached_property
from typing import Any

from ..cards.clips import Clip
from ..cards.describe import CardDescription
from ..cards.holding import Held, Holding
from ..errors import ActRefused
from ..sources.listing import Entry

KINDS = ("picture", "video", "sound", "sequence", "other")
"""Of clips, and `other` for files of no clip."""


@dataclass(frozen=True)
class Take:
    """What is wanted of a card. Parts that are empty do not restrict; several restrict together.

    from_s, until_s: clips that began within, in seconds since 1970-01-01 UTC, the clock's offset taken off
    folders: on the card, with all that is beneath them. kinds: of `KINDS`. picked: clips, by their main paths
    """

    only_new: bool = False
    from_s: float | None = None
    until_s: float | None = None
    folders: tuple[str, ...] = ()
    kinds: tuple[str, ...] = ()
    picked: tuple[str, ...] | None = None

    @cached_property
    def picked_set(self) -> frozenset[str]:
        """For quick answers."""
        return frozenset(self.picked or ())

    @property
    def everything(self) -> bool:
        """Whether nothing is left out."""
        return self == EVERYTHING

    def as_data(self) -> dict[str, Any]:
        """As JSON holds it."""
        return asdict(self)

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "Take":
        """Raises ActRefused where the data cannot be a choice."""
        unknown = set(data.get("kinds") or ()) - set(KINDS)
        if unknown:
            raise ActRefused(f"There is no kind '{min(unknown)}' to take; there are {', '.join(KINDS)}.")
        picked = data.get("picked")
        return cls(
            bool(data.get("only_new")), data.get("from_s"), data.get("until_s"), tuple(data.get("folders") or ()),
            tuple(data.get("kinds") or ()), None if picked is None else tuple(picked),
        )  # fmt: skip

    @property
    def words(self) -> str:
        """As people say it."""
        parts = [
            "only what is new" if self.only_new else "",
            "a stretch of time" if self.from_s is not None or self.until_s is not None else "",
            f"the folders {', '.join(self.folders)}" if self.folders else "",
            f"the kinds {', '.join(self.kinds)}" if self.kinds else "",
            f"{len(self.picked)} clips picked by hand" if self.picked is not None else "",
        ]
        return ", ".join(part for part in parts if part) or "everything"


EVERYTHING = Take()


@dataclass(frozen=True)
class Taken:
    """files: to be copied. left: to stay behind, among them nothing that is held already."""

    files: tuple[Entry, ...]
    left: tuple[Entry, ...]


def take(described: CardDescription, held: Mapping[str, Held], wanted: Take) -> Taken:
    """Which files of a card go. A clip goes whole or not at all, but for files of it that are held already.

    held: of every file on the card, by path
    """
    files = _wanted(described, wanted)
    if wanted.only_new:
        files = [entry for entry in files if not _is_held(entry, held)]
    going = {entry.path for entry in files}
    rest = (entry for entry in _all(described) if entry.path not in going)
    left = tuple(entry for entry in rest if not _is_held(entry, held))
    return Taken(tuple(sorted(files, key=lambda entry: entry.path)), left)


def _wanted(described: CardDescription, wanted: Take) -> list[Entry]:
    files = [entry for clip in described.clips if _wants_clip(clip, wanted) for entry in clip.entries]
    return files + [entry for entry in described.loose if _wants_loose(entry, wanted)]


def _all(described: CardDescription) -> Iterable[Entry]:
    for clip in described.clips:
        yield from clip.entries
    yield from described.loose


def _is_held(entry: Entry, held: Mapping[str, Held]) -> bool:
    found = held.get(entry.path)
    return found is not None and found.holding is Holding.HELD


def _wants_clip(clip: Clip, wanted: Take) -> bool:
    return (
        (wanted.picked is None or clip.main.path in wanted.picked_set)
        and (not wanted.kinds or clip.kind in wanted.kinds)
        and _in_folders(clip.main.path, wanted.folders)
        and _in_time(clip, wanted)
    )


def _wants_loose(entry: Entry, wanted: Take) -> bool:
    """Files of no clip belong to the card's structure: they come along unless folders or kinds say otherwise."""
    return _in_folders(entry.path, wanted.folders) and (not wanted.kinds or "other" in wanted.kinds)


def _in_folders(path: str, folders: tuple[str, ...]) -> bool:
    return not folders or any(path.startswith(folder + "/") for folder in folders)


def _in_time(clip: Clip, wanted: Take) -> bool:
    if wanted.from_s is None and wanted.until_s is None:
        return True
    if clip.starts is None:
        return False
    at = clip.starts.timestamp()
    return (wanted.from_s is None or at >= wanted.from_s) and (wanted.until_s is None or at <= wanted.until_s)
