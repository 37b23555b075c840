"""HTML into PDF: our fonts, and nothing from anywhere else."""

import base64
import hashlib
import html
import io
from dataclasses import dataclass
from datetime import datetime
from functools import cache
from typing import TYPE_CHECKING

import pikepdf

from .faces import FAMILIES, Face, faces, showable

if TYPE_CHECKING:
    import weasyprint

HEAD_FACES = ", ".join(
    f"'Sofia Sans Condensed{one}'" for one in ("", " latin-ext", " cyrillic", " cyrillic-ext", " greek")
)
TEXT_FACES = f"'Atkinson Hyperlegible', 'Atkinson Hyperlegible latin-ext', {HEAD_FACES}"
"""What headings and text are set in, as CSS: each set of signs is a family of its own there."""


@dataclass(frozen=True)
class Attached:
    """A file inside a document. made: in UTC, as the document says when it was made"""

    name: str
    content: bytes
    made: datetime


def as_pdf(body: str, style: str, attached: Attached | None = None) -> bytes:
    """A document as PDF. body: HTML of which every word of somebody's went through `said`. style: CSS

    Nothing is fetched: what a document is made of is inside it. The same words make the same bytes.
    """
    import weasyprint  # takes a second to load, and few processes ever print
    from weasyprint.urls import URLFetcher

    page = f"<!doctype html><html lang='en'><meta charset='utf-8'><style>{_fonts()}{style}</style>{body}</html>"
    within = [_attachment(attached)] if attached else []
    whole = weasyprint.HTML(string=page, url_fetcher=URLFetcher(allowed_protocols=("data",)))
    made: bytes = whole.write_pdf(pdf_identifier=hashlib.sha256(page.encode()).digest()[:16], attachments=within)
    return made


def _attachment(attached: Attached) -> "weasyprint.Attachment":
    import weasyprint

    return weasyprint.Attachment(
        file_obj=io.BytesIO(attached.content), name=attached.name, created=attached.made, modified=attached.made
    )


def pages_in(document: bytes) -> int:
    """Of a PDF."""
    with pikepdf.open(io.BytesIO(document)) as found:
        return len(found.pages)


def joined(first: bytes, second: bytes) -> bytes:
    """Two PDFs as one; an empty one adds nothing. The same make the same bytes."""
    with pikepdf.open(io.BytesIO(first)) as whole:
        if second:
            with pikepdf.open(io.BytesIO(second)) as more:
                whole.pages.extend(more.pages)
        made = io.BytesIO()
        whole.save(made, deterministic_id=True, object_stream_mode=pikepdf.ObjectStreamMode.generate)
    return made.getvalue()


def said(words: object) -> str:
    """Somebody's words as text of a document. A sign that our fonts lack is written as its number is."""
    return html.escape(showable(str(words)))


@cache
def _fonts() -> str:
    made = []
    for family in FAMILIES:
        for one in (*faces(family), *faces(family, weight=700)):
            packed = base64.b64encode(one.packed.read_bytes()).decode()
            face = f"font-family:'{_called(one)}';font-weight:{one.weight};src:url('data:font/woff2;base64,{packed}')"
            made.append(f"@font-face{{{face}}}")
    return "".join(made)


def _called(face: Face) -> str:
    """Of the CSS: a set of signs that is not the first is a family of its own."""
    return face.name.removesuffix(f" {face.weight}").removesuffix(" latin")
