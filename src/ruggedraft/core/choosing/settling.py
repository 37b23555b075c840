"""What choosing comes to, clip by clip: before anything happens to what somebody drops, everybody sees it."""

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from typing import NamedTuple


class ClipSaid(NamedTuple):
    """A clip, by its main file, and who keeps and who drops it. waived: it needs no copies any more"""

    path: str
    keep: frozenset[int]
    drop: frozenset[int]
    waived: bool


@dataclass(frozen=True)
class Choice:
    """Paths, each clip in one of these but for `mine` and `regretted`.

    contested: one keeps what another drops: nothing happens to it. waived: dropped, and needs no copies any more
    undecided: nobody said anything: it is copied like what is kept
    mine: of those dropped, what this person dropped alone or with others. regretted: of the waived, what somebody keeps
    """

    kept: tuple[str, ...]
    dropped: tuple[str, ...]
    undecided: tuple[str, ...]
    contested: tuple[str, ...]
    waived: tuple[str, ...]
    mine: tuple[str, ...]
    regretted: tuple[str, ...]


def settled(clips: Iterable[ClipSaid], person: int | None) -> Choice:
    """person: whose own drops are asked for; None: nobody's

    >>> one = ClipSaid("a", frozenset({1}), frozenset({2}), False)
    >>> settled([one, ClipSaid("b", frozenset(), frozenset({2}), False)], 2).mine
    ('b',)
    """
    each = list(clips)
    found: dict[str, list[str]] = {name: [] for name in ("kept", "dropped", "undecided", "contested", "waived")}
    for clip in each:
        found[_stands(clip)].append(clip.path)
    return Choice(
        **{name: tuple(sorted(paths)) for name, paths in found.items()},
        mine=tuple(sorted(one.path for one in each if _stands(one) == "dropped" and person in one.drop)),
        regretted=tuple(sorted(one.path for one in each if one.waived and one.keep)),
    )


def _stands(clip: ClipSaid) -> str:
    if clip.waived:
        return "waived"
    if clip.keep and clip.drop:
        return "contested"
    if clip.drop:
        return "dropped"
    return "kept" if clip.keep else "undecided"


def of_no_kept_clip(clips: Iterable[tuple[str, frozenset[str]]], kept: Collection[str]) -> frozenset[str]:
    """Paths of the files of clips that nobody keeps: none that a kept clip shares, and none that is of no clip, as what
    stays may need it.

    clips: each by its main file, with all of its files. kept: main files

    >>> clips = [("a", frozenset({"a", "ab.xml"})), ("b", frozenset({"b", "b.xml", "ab.xml"}))]
    >>> sorted(of_no_kept_clip(clips, {"a"}))
    ['b', 'b.xml']
    """
    each = list(clips)
    stays = frozenset[str]().union(kept, *(files for main, files in each if main in kept))
    return frozenset[str]().union(*(files for main, files in each if main not in kept)) - stays
