"""Labels for cards and drives: what they are called, whose they are, and the same as codes."""

import io
import json
import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import barcode
import segno
from django.conf import settings

from ruggedraft.core.labels import LabelSheet, Spot, spots

from .paper import HEAD_FACES, TEXT_FACES, as_pdf, said


@dataclass(frozen=True)
class Label:
    """name: what is written large, and in the bars. letter: of the camera, for its pennant; empty for a drive

    address: what a phone opens, in the square code. small: a line beneath
    """

    name: str
    letter: str
    address: str
    small: str


def label_sheets(labels: Sequence[Label], sheet: LabelSheet, first: int = 1) -> bytes:
    """As PDF. first: the first label of the first sheet that is free, from 1. Raises ActRefused."""
    placed = list(zip(labels, spots(sheet, len(labels), first), strict=True))
    pages = 1 + max((spot.sheet for _, spot in placed), default=0)
    body = "".join(
        f"<section>{''.join(_label(label, spot, sheet) for label, spot in placed if spot.sheet == page)}</section>"
        for page in range(pages)
    )
    return as_pdf(body, _style(sheet))


@dataclass(frozen=True)
class _Sizes:
    """What a label is made up with, in millimetres but for type, which is in points. margin: beneath the square code"""

    margin: float
    top: float
    pennant: float
    beside_pennant: float
    name: str
    drive: str
    long: str
    small: str
    small_top: float
    bars: float


_LOW = _Sizes(8, 1.4, 6, 9.5, "11pt", "8pt", "5pt", "4.5pt", 7.5, 5)
_TALL = _Sizes(12, 2.6, 11, 14.5, "22pt", "14pt", "8pt", "7pt", 14, 8)
_TALL_FROM_MM, _WIDEST_SQUARE_MM = 24, 22


def _style(sheet: LabelSheet) -> str:
    sizes = _LOW if sheet.height < _TALL_FROM_MM else _TALL
    square = min(sheet.height - sizes.margin, _WIDEST_SQUARE_MM)
    beside = sheet.width - square - 5  # what is left of the width
    return f"""
@page {{ size: {sheet.page}; margin: 0 }}
body {{ margin: 0; font-family: {TEXT_FACES}; color: #000 }}
section {{ position: relative; width: {sheet.page_width}mm; height: {sheet.page_height}mm; break-after: page }}
section:last-child {{ break-after: auto }}
div {{ position: absolute; width: {sheet.width}mm; height: {sheet.height}mm; overflow: hidden }}
div > * {{ position: absolute }}
.qr {{ right: 1.5mm; top: 1.5mm; width: {square}mm }}
.pennant {{ left: 2.5mm; top: {sizes.top}mm; width: {sizes.pennant}mm }}
.name {{ left: {sizes.beside_pennant}mm; top: {sizes.top}mm; white-space: nowrap;
         font: 700 {sizes.name}/1.1 {HEAD_FACES} }}
.drive .name {{ left: 2.5mm; width: {beside}mm; white-space: normal; line-height: 1; font-size: {sizes.drive} }}
.long .name {{ width: {beside - 12}mm; white-space: normal; line-height: 1; font-size: {sizes.long} }}
.long.drive .name {{ width: {beside}mm }}
.small {{ left: 2.5mm; top: {sizes.small_top}mm; width: {beside}mm; line-height: 1.15; font-size: {sizes.small} }}
.bars {{ left: 2.5mm; bottom: 1.2mm; height: {sizes.bars}mm; width: {sheet.width - 5}mm }}
"""


def _label(label: Label, spot: Spot, sheet: LabelSheet) -> str:
    kind = ("card" if label.letter else "drive") + (" long" if len(label.name) > _LONG else "")
    return (
        f"<div class='{kind}' style='left:{spot.x}mm;top:{spot.y}mm'>{_pennant(label.letter)}"
        f"<span class='name'>{said(label.name)}</span><span class='small'>{said(label.small)}</span>"
        f"{_square(label.address)}{_bars(label.name, sheet.width - 5)}</div>"
    )


_LONG = 14
"""A name of more signs is written smaller, on several lines."""


@cache
def _outlines() -> list[str]:
    """The pennants' outlines, where the web application has them."""
    outlines: list[str] = json.loads(Path(settings.ROOT, "web", "src", "marks", "outlines.json").read_text())
    return outlines


def outline_of(letter: str) -> str:
    """The outline of a camera's pennant, as an SVG path in a box of 64 by 48; it follows from the letter."""
    outlines = _outlines()
    return outlines[sum(map(ord, letter)) % len(outlines)]


def _pennant(letter: str) -> str:
    if not letter:
        return ""
    return (
        f"<svg class='pennant' viewBox='0 0 64 48'><path d='{outline_of(letter)}' fill='none' stroke='#000'"
        f" stroke-width='3'/><path d='M4 1V47' stroke='#000' stroke-width='4'/>"
        f"<text x='25' y='33' text-anchor='middle' font-family='Sofia Sans Condensed' font-weight='700'"
        f" font-size='{26 if len(letter) == 1 else 18}'>{said(letter)}</text></svg>"
    )


def _square(address: str) -> str:
    """QR code (ISO/IEC 18004), error level M: cards are handled with gloves."""
    drawn = io.BytesIO()
    segno.make(address, error="m", micro=False).save(drawn, kind="svg", xmldecl=False, svgclass="qr", omitsize=True)
    return drawn.getvalue().decode()


def _bars(name: str, width: float) -> str:
    """Code 128 (ISO/IEC 15417) for hand scanners, which type what it says and Enter.

    Nothing where it cannot say the name, or would be too fine for this width (mm) to be printed and read.
    """
    if not name.isascii() or not name.isprintable():
        return ""
    (modules,) = barcode.get("code128", name).build()
    widest = len(modules) + 2 * _QUIET
    if width / widest < _FINEST_MM:
        return ""
    drawn = "".join(
        f"<rect x='{_QUIET + run.start()}' width='{run.end() - run.start()}' height='1'/>"
        for run in re.finditer("1+", modules)
    )
    return f"<svg class='bars' viewBox='0 0 {widest} 1' preserveAspectRatio='none'>{drawn}</svg>"


_QUIET = 10
"""Modules that stay white on either side, as the standard asks."""
_FINEST_MM = 0.17
"""Two dots of a printer of 300 to the inch."""
