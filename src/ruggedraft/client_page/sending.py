"""A file of a consignment on its way out, read from a copy as it goes."""

import asyncio
import base64
from collections.abc import AsyncIterator
from contextlib import suppress

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.utils.http import content_disposition_header

from ruggedraft.api.answers import stretch_asked
from ruggedraft.core.errors import NotThere, SourceError, StoreError
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.sources.port import CardSource, OpenFile
from ruggedraft.delivering.acts.note_fetched import note_fetched
from ruggedraft.delivering.models import Consignment
from ruggedraft.kit.models import Station
from ruggedraft.live.letting_go import let_go
from ruggedraft.pictures.due import copies_here
from ruggedraft.pictures.reading import opened
from ruggedraft.project.clients import client_address
from ruggedraft.rolls.models import RollFile

_PIECE = 1 << 20
_DIGESTS = {"sha256": "sha-256", "md5": "md5", "sha1": "sha"}
"""RFC 9530 and its registry of algorithms, by our names; MD5 and SHA-1 are listed there as deprecated."""


def send_file(request: HttpRequest, consignment: Consignment, file: RollFile) -> HttpResponseBase:
    """All of it, or the stretch that is asked for (RFC 9110, 14), with its checksum. 503 while no copy is connected."""
    size = file.size
    tag = f'"{file.roll.algorithm}-{file.checksum}"'
    asked = request.headers.get("Range", "") if request.headers.get("If-Range", tag) == tag else ""
    first, end, status = stretch_asked(asked, size)
    if status == 416:
        return _with_checksums(HttpResponse(status=416, headers={"Content-Range": f"bytes */{size}"}), file, tag)
    headers = {"Content-Length": str(end - first), "Content-Type": "application/octet-stream"}
    if status == 206:
        headers["Content-Range"] = f"bytes {first}-{end - 1}/{size}"
    if request.method == "HEAD":
        return _with_checksums(HttpResponse(status=status, headers=headers), file, tag)
    found = _open(file)
    if found is None:
        return HttpResponse("The drive that holds this is not connected now. Try again later.", status=503)
    origin = client_address(request)
    let_go()  # what is sent for an hour needs no connection to the ledger, and others do
    body = _sent(found, consignment, file, first, end, origin)
    return _with_checksums(StreamingHttpResponse(body, status=status, headers=headers), file, tag)


def _with_checksums(answer: HttpResponseBase, file: RollFile, tag: str) -> HttpResponseBase:
    sums = {file.roll.algorithm: file.checksum, **file.others}
    answer["ETag"], answer["Accept-Ranges"] = tag, "bytes"
    answer["X-Checksum"] = ", ".join(f"{name}={said}" for name, said in sorted(sums.items()) if said)
    known = [
        f"{_DIGESTS[name]}=:{base64.b64encode(bytes.fromhex(said)).decode()}:"
        for name, said in sorted(sums.items())
        if said and name in _DIGESTS
    ]
    if known:
        answer["Repr-Digest"] = ", ".join(known)
    name = (file.kept_as or file.path).rpartition("/")[2]
    answer["Content-Disposition"] = content_disposition_header(as_attachment=True, filename=name) or "attachment"
    return answer


def _open(file: RollFile) -> tuple[CardSource, OpenFile] | None:
    """From the first verified copy at hand that holds it in its size."""
    here = [copy for station in Station.objects.filter(role="") for copy in copies_here(file.roll, station)]
    for _, source in opened(here):
        with suppress(SourceError, StoreError):
            source.require()
            found = source.open(from_ledger(file.kept_as or file.path))
            if found.size_and_time()[0] == file.size:
                return source, found
            found.close()
    return None


async def _sent(
    found: tuple[CardSource, OpenFile], consignment: Consignment, file: RollFile, first: int, end: int, origin: str
) -> AsyncIterator[bytes]:
    """Piece by piece. A drive that goes, or a client that hangs up, ends it; what went out until then is noted."""
    source, one = found
    at = first
    try:
        while at < end:
            piece = await asyncio.to_thread(_piece, source, one, at, min(_PIECE, end - at))
            yield piece
            at += len(piece)
    finally:
        one.close()
        await asyncio.shield(asyncio.to_thread(_note, consignment, file, first, at - first, origin))


def _piece(source: CardSource, one: OpenFile, at: int, size: int) -> bytes:
    piece = one.read_at(at, size)
    if not piece:
        raise NotThere("The file ends before its end.")
    source.require()  # bytes of a drive that went are none
    return piece


def _note(consignment: Consignment, file: RollFile, first: int, size: int, origin: str) -> None:
    try:
        note_fetched(consignment, file, first, size, origin)
    finally:
        let_go()
