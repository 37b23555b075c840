"""What papers are made up of: A4, black on white."""

from collections.abc import Iterable, Sequence

from .paper import HEAD_FACES, TEXT_FACES, said

STYLE = """
@page { size: A4; margin: 16mm 14mm 16mm;
  @bottom-left { content: string(which); font: 8pt TEXT_FACES }
  @bottom-right { content: counter(page) " of " counter(pages); font: 8pt TEXT_FACES } }
body { font: 9pt/1.35 TEXT_FACES; color: #000; margin: 0 }
h1 { font: 700 24pt/1 HEAD_FACES; margin: 0; string-set: which content() }
h2 { font: 700 13pt/1.1 HEAD_FACES; margin: 5mm 0 1.5mm; border-bottom: 0.7mm solid #000;
     break-after: avoid }
p { margin: 1mm 0 }
table { width: 100%; border-collapse: collapse }
td, th { text-align: left; vertical-align: top; padding: 0.8mm 2mm 0.8mm 0; border-bottom: 0.15mm solid #888 }
th { font-weight: 700; border-bottom: 0.35mm solid #000 }
tr { break-inside: avoid }
.number { text-align: right; white-space: nowrap }
.tag { font: 700 11pt/1.1 HEAD_FACES; white-space: nowrap }
li { margin: 0.6mm 0 }
ul { margin: 0; padding-left: 4mm }
""".replace("TEXT_FACES", TEXT_FACES).replace("HEAD_FACES", HEAD_FACES)
"""Of every paper. Its first heading stands beneath each page."""


def section(name: str, body: str) -> str:
    """With its heading; nothing where there is nothing to say. body: HTML"""
    return f"<h2>{name}</h2>{body}" if body else ""


def table(head: Sequence[str], rows: Iterable[Sequence[str]]) -> str:
    """Cells are HTML. A column whose name begins with # holds numbers."""
    names = "".join(f"<th{_of(name)}>{said(name.lstrip('#'))}</th>" for name in head)
    body = "".join(
        f"<tr>{''.join(f'<td{_of(name)}>{cell}</td>' for name, cell in zip(head, row, strict=True))}</tr>"
        for row in rows
    )
    return f"<table><thead><tr>{names}</tr></thead><tbody>{body}</tbody></table>" if body else ""


def _of(name: str) -> str:
    return " class='number'" if name.startswith("#") else ""


def clock(seconds: float) -> str:
    """Hours, minutes and seconds, cut to the second.

    >>> clock(59.9), clock(90061)
    ('0:00:59', '25:01:01')
    """
    whole = int(seconds)
    return f"{whole // 3600}:{whole // 60 % 60:02}:{whole % 60:02}"


_UNITS = ("bytes", "kB", "MB", "GB", "TB", "PB")


def size(count: int) -> str:
    """As drive makers count.

    >>> size(999), size(1_250_000_000), size(999_999)
    ('999 bytes', '1.25 GB', '1 MB')
    """
    value, step = float(count), 0
    while value >= 999.5 and step < len(_UNITS) - 1:
        value, step = value / 1000, step + 1
    return (
        f"{count} bytes"
        if step == 0
        else f"{value:.3g} {_UNITS[step]}"
        if value < 100
        else f"{value:.0f} {_UNITS[step]}"
    )
