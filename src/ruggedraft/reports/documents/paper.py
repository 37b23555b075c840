"""HTML into PDF: our fonts, and nothing from anywhere else."""

import base64
import html
from functools import cache
from pathlib import Path

from django.conf import settings

FONTS = {
    "Atkinson Hyperlegible": ("atkinson-hyperlegible", (400, 700)),
    "Atkinson Hyperlegible Mono": ("atkinson-hyperlegible-mono", (400,)),
    "Sofia Sans Condensed": ("sofia-sans-condensed", (700,)),
}
"""The web application's own, as Fontsource packs them."""


def as_pdf(body: str, style: str) -> bytes:
    """A document as PDF. body: HTML of which every word of somebody's went through `said`. style: CSS

    Nothing is fetched: what a document is made of is inside it.
    """
    import weasyprint  # takes a second to load, and few processes ever print
    from weasyprint.urls import URLFetcher

    page = f"<!doctype html><html lang='en'><meta charset='utf-8'><style>{_fonts()}{style}</style>{body}</html>"
    made: bytes = weasyprint.HTML(string=page, url_fetcher=URLFetcher(allowed_protocols=("data",))).write_pdf()
    return made


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
