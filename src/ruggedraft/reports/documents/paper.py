"""HTML into PDF: our fonts, and nothing from anywhere else."""

import base64
import hashlib
import html
import io
from dataclasses import dataclass
from datetime import datetime
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING

from django.conf import settings

if TYPE_CHECKING:
    import weasyprint

FONTS = {
    "Atkinson Hyperlegible": ("atkinson-hyperlegible", (400, 700)),
    "Atkinson Hyperlegible Mono": ("atkinson-hyperlegible-mono", (400,)),
    "Sofia Sans Condensed": ("sofia-sans-condensed", (700,)),
}
"""The web application's own, as Fontsource packs them."""


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


def said(words: object) -> str:
    """Somebody's words as text of a document, whatever signs they are of."""
    return html.escape(str(words))


@cache
def _fonts() -> str:
    faces = []
    for family, (package, weights) in FONTS.items():
        for weight in weights:
            packed = base64.b64encode(_file(package, weight).read_bytes()).decode()
            face = f"font-family:'{family}';font-weight:{weight};src:url('data:font/woff2;base64,{packed}')"
            faces.append(f"@font-face{{{face}}}")
    return "".join(faces)


def _file(package: str, weight: int) -> Path:
    name = f"{package}-latin-{weight}-normal.woff2"
    return Path(settings.ROOT, "web", "node_modules", "@fontsource", package, "files", name)
