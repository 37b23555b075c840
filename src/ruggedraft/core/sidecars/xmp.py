"""XMP sidecars: ISO 16684-1 (data model, serialisation and core properties), IPTC Core 1.3 for what each means.

Creator is dc:creator, Copyright Notice dc:rights, Keywords dc:subject, Description dc:description. Property names from
memory; the tests have exiftool read them back.
"""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from xml.etree import ElementTree as ET

_RDF, _DC = "http://www.w3.org/1999/02/22-rdf-syntax-ns#", "http://purl.org/dc/elements/1.1/"
for _prefix, _space in (("rdf", _RDF), ("dc", _DC)):
    ET.register_namespace(_prefix, _space)
_NOT_XML = re.compile("[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
"""Characters that XML 1.0 cannot hold."""


@dataclass(frozen=True)
class Tags:
    """Of a whole roll."""

    creator: str = ""
    rights: str = ""
    keywords: tuple[str, ...] = ()
    notes: str = ""

    def __bool__(self) -> bool:
        return any((self.creator, self.rights, self.keywords, self.notes))


def format_xmp(tags: Tags) -> bytes:
    """The bytes of a sidecar. The same tags make the same bytes."""
    root = ET.Element(f"{{{_RDF}}}RDF")
    about = ET.SubElement(root, f"{{{_RDF}}}Description", {f"{{{_RDF}}}about": ""})
    _list(about, "creator", "Seq", [tags.creator])
    _text(about, "rights", tags.rights)
    _list(about, "subject", "Bag", tags.keywords)
    _text(about, "description", tags.notes)
    ET.indent(root)
    packet = ET.tostring(root, encoding="unicode")
    return f'<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>\n{packet}\n<?xpacket end="w"?>\n'.encode()


def _list(about: ET.Element, name: str, kind: str, values: Iterable[str]) -> None:
    wanted = [_clean(value) for value in values if value.strip()]
    if wanted:
        holder = ET.SubElement(ET.SubElement(about, f"{{{_DC}}}{name}"), f"{{{_RDF}}}{kind}")
        for value in wanted:
            ET.SubElement(holder, f"{{{_RDF}}}li").text = value


def _text(about: ET.Element, name: str, value: str) -> None:
    if value.strip():
        holder = ET.SubElement(ET.SubElement(about, f"{{{_DC}}}{name}"), f"{{{_RDF}}}Alt")
        ET.SubElement(
            holder, f"{{{_RDF}}}li", {"{http://www.w3.org/XML/1998/namespace}lang": "x-default"}
        ).text = _clean(value)


def _clean(value: str) -> str:
    return _NOT_XML.sub(" ", value).strip()


def sidecar_path(kept_as: str) -> str:
    """Where the sidecar of a clip's main file lies: the same base name, in the same folder."""
    folder, slash, name = kept_as.rpartition("/")
    stem = name.rpartition(".")[0] or name
    return f"{folder}{slash}{stem}.xmp"
