"""Pointed at the inside of a card? Digging recordings out of their folders loses what ties them together."""

from pathlib import Path

from .findings import Finding, FindingKind
from .layouts import LAYOUTS
from .layouts.dcf import FILE as DCF_FILE
from .layouts.dcf import FOLDER as DCF_FOLDER
from .tree import Tree, base_of, name_of


def levels_inside(folder: Path) -> int:
    """How many levels above a folder the card is, judged by the folders' names; 0 where it is the card itself."""
    return max(layout.levels_inside(folder.parts) for layout in LAYOUTS)


def card_above(folder: Path) -> Path | None:
    """The card that a folder is the inside of, None if it is not."""
    levels = levels_inside(folder)
    return folder.parents[levels - 1] if levels else None


_INSIDES: dict[str, frozenset[str]] = {
    "PRIVATE/AVCHD/BDMV": frozenset({"STREAM", "CLIPINF"}),
    "PRIVATE/M4ROOT": frozenset({"CLIP", "THMBNL"}),
    "CONTENTS": frozenset({"CLIP", "VIDEO", "AUDIO"}),
    "BPAV": frozenset({"CLPR"}),
}
"""Folders that only stand together within another one. `BDMV` or `M4ROOT` alone may well be a card's root."""


def inner_finding(tree: Tree) -> list[Finding]:
    """The same, judged by what lies in a folder, for a part of a card that was copied or mounted on its own."""
    inside = _inside_by_folders(tree) or _inside_by_files(tree)
    if inside is None:
        return []
    words = (
        f"This looks like the inside of a card, what belongs in {inside}. Take the whole card: offload from its root"
    )
    return [Finding(FindingKind.INNER_FOLDER, words)]


def _inside_by_folders(tree: Tree) -> str | None:
    names = {name_of(path).upper() for path in tree.folders_in("")}
    inside = next((inside for inside, marks in _INSIDES.items() if marks <= names), None)
    if inside:
        return inside
    dcf = [name for name in names if DCF_FOLDER.fullmatch(name)]
    return "DCIM" if dcf and "DCIM" not in names and _holds_dcf_files(tree) else None


def _holds_dcf_files(tree: Tree) -> bool:
    return any(
        DCF_FILE.fullmatch(base_of(entry.path).upper())
        for folder in tree.folders_in("")
        if DCF_FOLDER.fullmatch(name_of(folder).upper())
        for entry in tree.files_in(folder)
    )


def _inside_by_files(tree: Tree) -> str | None:
    """Pictures with camera names and no folder at all: one folder out of DCIM."""
    files = tree.files_in("")
    if tree.folders_in("") or len(files) < 2:
        return None
    named = [entry for entry in files if DCF_FILE.fullmatch(base_of(entry.path).upper())]
    return "a folder of DCIM" if len(named) == len(files) else None
