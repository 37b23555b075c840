"""What a WebDAV server tells of its folders: what is asked of it, and how its answer is read (RFC 4918, 9.1 and 14)."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from email.utils import parsedate_to_datetime
from urllib.parse import unquote, urlsplit
from xml.etree.ElementTree import Element, ParseError

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from ...errors import StoreError, StoreVanished, UnsafePath
from ...files.confinement import parts_of

_LONGEST_ANSWER = 64 << 20
"""Bytes of a listing of one folder: far more than a folder of a hundred thousand files."""
_D = "{DAV:}"
MEMBERS = (
    b'<?xml version="1.0" encoding="utf-8"?><propfind xmlns="DAV:"><prop><resourcetype/><getcontentlength/>'
    b"<getlastmodified/></prop></propfind>"
)
QUOTA = (
    b'<?xml version="1.0" encoding="utf-8"?><propfind xmlns="DAV:"><prop><quota-available-bytes/>'
    b"<quota-used-bytes/></prop></propfind>"
)
"""RFC 4331, 'Quota and Size Properties for DAV Collections'."""


@dataclass(frozen=True)
class Member:
    """Of a listing. path: beneath the store, empty for itself. size: bytes, 0 of a folder

    modified: by the server's clock, None where it does not say
    """

    path: str
    folder: bool
    size: int
    modified: datetime | None


def members(answer: bytes, base: str, store: str) -> Iterator[Member]:
    """From the answer to `MEMBERS`. base: the path of the store on its server, no slash at its end. store: its name

    Raises StoreError for an answer that cannot be read, or tells of something outside of the store: none makes us go
    elsewhere.
    """
    for response in _tree(answer, store).iter(f"{_D}response"):
        properties = {one.tag: one for prop in _given(response) for one in prop}
        kind = properties.get(f"{_D}resourcetype")
        folder = kind is not None and kind.find(f"{_D}collection") is not None
        size = number(_text(properties.get(f"{_D}getcontentlength")))
        if not folder and size is None:
            raise StoreError(f"the server of '{store}' does not say how large a file is")
        path = _inside(response.findtext(f"{_D}href", ""), base, store)
        yield Member(path, folder, size or 0, moment(_text(properties.get(f"{_D}getlastmodified"))))


def quotas(answer: bytes, store: str) -> tuple[int | None, int | None]:
    """From the answer to `QUOTA`: bytes that may be written yet, and bytes used; None where it does not say.

    Raises StoreError.
    """
    told = {one.tag: one.text for prop in _given(_tree(answer, store)) for one in prop}
    return number(told.get(f"{_D}quota-available-bytes")), number(told.get(f"{_D}quota-used-bytes"))


def number(text: str | None) -> int | None:
    """A count of bytes; None for anything else.

    >>> number(" 12 "), number("-1"), number("²"), number(None)
    (12, None, None, None)
    """
    told = (text or "").strip()
    return int(told) if told.isascii() and told.isdigit() else None


def moment(text: str | None) -> datetime | None:
    """As HTTP writes it (RFC 9110, 5.6.7), in UTC; None for anything else.

    >>> moment("Thu, 14 May 2026 09:00:00 GMT"), moment("yesterday")
    (datetime.datetime(2026, 5, 14, 9, 0, tzinfo=datetime.timezone.utc), None)
    """
    try:
        return parsedate_to_datetime(text or "").astimezone(UTC)
    except (TypeError, ValueError):
        return None


def _inside(href: str, base: str, store: str) -> str:
    path = unquote(urlsplit(href).path).rstrip("/")
    inside = path[len(base) + 1 :]
    try:
        if path != base and not path.startswith(f"{base}/"):
            raise UnsafePath(f"{path!r} is not in {base!r}")
        return "/".join(parts_of(inside)) if inside else ""
    except UnsafePath as error:
        raise StoreError(f"the server of '{store}' tells of something outside of it") from error


def _tree(answer: bytes, store: str) -> Element:
    if len(answer) > _LONGEST_ANSWER:
        raise StoreError(f"the server of '{store}' tells more than can be taken in")
    try:
        tree: Element = fromstring(answer)
    except (ParseError, DefusedXmlException) as error:
        raise StoreVanished(f"the server of '{store}' gives an answer that cannot be read") from error
    return tree


def _given(tree: Element) -> Iterator[Element]:
    """The properties that the server has: of others it says so with another status (RFC 4918, 9.1)."""
    for one in tree.iter(f"{_D}propstat"):
        prop = one.find(f"{_D}prop")
        if prop is not None and " 200 " in f"{one.findtext(f'{_D}status', '')} ":
            yield prop


def _text(element: Element | None) -> str | None:
    return None if element is None else element.text
