"""The fonts that papers are set in, and what of somebody's words they can show."""

import io
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from django.conf import settings
from fontTools.ttLib import TTFont

_LATIN, _MORE = ("latin", "latin-ext"), ("latin", "latin-ext", "cyrillic", "cyrillic-ext", "greek")
FAMILIES = {
    "Atkinson Hyperlegible": ("atkinson-hyperlegible", (400, 700), _LATIN),
    "Atkinson Hyperlegible Mono": ("atkinson-hyperlegible-mono", (400,), _LATIN),
    "Sofia Sans Condensed": ("sofia-sans-condensed", (400, 700), _MORE),
}
"""The web application's own, as Fontsource packs them: package, weights, and the sets of signs that each file holds."""
TEXT = ("Atkinson Hyperlegible", "Sofia Sans Condensed")
MONO = ("Atkinson Hyperlegible Mono", "Sofia Sans Condensed")
HEAD = ("Sofia Sans Condensed",)
"""Families that stand in for each other, the first that has a sign before others."""


@dataclass(frozen=True)
class Face:
    """One font file. name: what it is called in a document. signs: code points that it has"""

    name: str
    family: str
    weight: int
    packed: Path
    signs: frozenset[int]

    def as_truetype(self) -> bytes:
        """Unpacked (WOFF2 is TrueType, compressed), under a name of its own: the files of a family share theirs."""
        font = TTFont(self.packed)
        font.flavor = None
        for name_id in (1, 4, 6):  # family, full name, PostScript name (OpenType, 'name')
            font["name"].setName(self.name.replace(" ", ""), name_id, 3, 1, 0x409)
            font["name"].removeNames(name_id, 1)
        made = io.BytesIO()
        font.save(made)
        return made.getvalue()


def faces(*families: str, weight: int = 400) -> tuple[Face, ...]:
    """In the order in which a sign is looked for."""
    return tuple(one for family in families for one in _all() if one.family == family and one.weight == weight)


@cache
def _all() -> tuple[Face, ...]:
    found = []
    for family, (package, weights, sets) in FAMILIES.items():
        for weight in weights:
            for one in sets:
                packed = _file(package, one, weight)
                signs = frozenset(TTFont(packed, lazy=True).getBestCmap())
                found.append(Face(f"{family} {one} {weight}", family, weight, packed, signs))
    return tuple(found)


def _file(package: str, signs: str, weight: int) -> Path:
    name = f"{package}-{signs}-{weight}-normal.woff2"
    return Path(settings.ROOT, "web", "node_modules", "@fontsource", package, "files", name)


def stretches(words: str, among: tuple[Face, ...]) -> Iterator[tuple[Face, str]]:
    r"""Words as stretches that one face each can show. A sign that none has is written as `\u05d0` or `\U0001f600`."""
    if words.isascii() and words.isprintable():
        yield among[0], words  # each of our fonts has those
        return
    last, run = among[0], ""
    for sign in words:
        face = next((one for one in among if ord(sign) in one.signs), None)
        shown, wanted = (sign, face) if face else (escaped(sign), among[0])
        if wanted is not last and run:
            yield last, run
            run = ""
        last, run = wanted, run + shown
    if run:
        yield last, run


def showable(words: str, families: tuple[str, ...] = TEXT) -> str:
    r"""Words with every sign that none of these families has written as `\u05d0`; ends of lines stay."""
    if words.isascii() and words.isprintable():
        return words
    known = _signs(families)
    return "".join(sign if sign == "\n" or ord(sign) in known else escaped(sign) for sign in words)


@cache
def _signs(families: tuple[str, ...]) -> frozenset[int]:
    return frozenset().union(*(one.signs for one in _all() if one.family in families))


def escaped(sign: str) -> str:
    r"""
    >>> escaped("\n"), escaped("\u05d0"), escaped("\U0001f600")
    ('\\n', '\\u05d0', '\\U0001f600')
    """
    if sign == "\n":
        return "\\n"
    number = ord(sign)
    return f"\\u{number:04x}" if number < 1 << 16 else f"\\U{number:08x}"
