"""What there is by a link: the page, its pictures, lists, accounts and files."""

from collections.abc import Sequence
from dataclasses import dataclass
from urllib.parse import quote

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import render
from django.views.decorators.http import require_http_methods, require_safe

from ruggedraft.accounts.queries import WHOLE, paper_made, read_edition
from ruggedraft.api.answers import sent
from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.core.manifests import format_list
from ruggedraft.core.pictures import PictureKind
from ruggedraft.core.sources import from_ledger
from ruggedraft.delivering.acts.note_fetched import note_fetched_paper
from ruggedraft.delivering.acts.receive import receive
from ruggedraft.delivering.models import ClientLink, ConsignedRoll
from ruggedraft.delivering.queries import consigned, emblem_of, file_in, files_of, roll_of_file
from ruggedraft.pictures.models import Picture
from ruggedraft.pictures.queries import picture_of
from ruggedraft.project.clients import client_address
from ruggedraft.reports.account_table import account_table
from ruggedraft.reports.documents.faces import faces
from ruggedraft.reports.documents.parts import size as in_words
from ruggedraft.rolls.models import RollFile

from .guard import by_link, nothing
from .sending import send_file

_SHOWN, _PICTURES = 300, 60
_FACES = {"text": ("Atkinson Hyperlegible", 400), "bold": ("Atkinson Hyperlegible", 700),
          "head": ("Sofia Sans Condensed", 700), "mono": ("Atkinson Hyperlegible Mono", 400)}  # fmt: skip


_CHECKED_WITH = {"xxh128": "xxhsum", "xxh64": "xxhsum", "md5": "md5sum", "sha1": "sha1sum", "sha256": "sha256sum",
                 "blake3": "b3sum"}  # fmt: skip


@dataclass(frozen=True)
class _File:
    name: str
    address: str
    size: str
    bytes: int
    checksum: str


@dataclass(frozen=True)
class _Roll:
    """files: the first; more: how many others its list names. pictures: addresses"""

    tag: str
    camera: str
    day: str
    algorithm: str
    count: int
    size: str
    chosen: bool
    has_paper: bool
    files: Sequence[_File]
    more: int
    pictures: Sequence[tuple[str, str]]


@require_http_methods(["GET", "HEAD", "POST"])
@by_link
def page(request: HttpRequest, link: ClientLink) -> HttpResponseBase:
    """What was put together; and where somebody says that it arrived."""
    said, refused = "", ""
    if request.method == "POST":
        try:
            checked = request.POST.get("checked") == "on"
            receive(link.consignment, request.POST.get("name", ""), checked=checked, origin=client_address(request))
            said = request.POST["name"]
        except ActRefused as error:
            refused = error.sentence
    elif request.method == "GET":
        note_fetched_paper(link.consignment, "The page", client_address(request))
    row = link.consignment
    rolls = [_roll(one) for one in consigned(row)]
    words = {
        "row": row, "production": row.production, "until": row.production.local(link.until), "rolls": rolls,
        "said": said, "refused": refused, "receipts": row.receipts.order_by("pk"),
        "emblem": emblem_of(row.production),
        "example": f"{_CHECKED_WITH[rolls[0].algorithm]} -c {rolls[0].tag}.{rolls[0].algorithm}" if rolls else "",
    }  # fmt: skip
    return render(request, "client_page/page.html", words)


def _roll(one: ConsignedRoll) -> _Roll:
    rows = files_of(one)
    sizes = list(rows.values_list("size", flat=True))
    files = [_file(one.roll.tag, row) for row in rows[:_SHOWN]]
    seen = Picture.objects.filter(file__in=rows, kind=PictureKind.SMALL.value).order_by("file__path")
    pictures = [(f"pictures/{pk}", path.rpartition("/")[2])
                for pk, path in seen.values_list("file_id", "file__path")[:_PICTURES]]  # fmt: skip
    paper = getattr(one.edition, "paper", None)
    return _Roll(
        one.roll.tag, one.roll.camera.name, one.roll.shoot_day.isoformat(), one.roll.algorithm, len(sizes),
        in_words(sum(sizes)), one.files is not None, bool(paper and paper.made), files, len(sizes) - len(files),
        pictures,
    )  # fmt: skip


def _file(tag: str, row: RollFile) -> _File:
    name = row.kept_as or row.path
    return _File(name, f"files/{quote(tag)}/{quote(name)}", in_words(row.size), row.size, row.checksum)


@require_safe
@by_link
def a_file(request: HttpRequest, link: ClientLink, tag: str, name: str) -> HttpResponseBase:
    """A file of a roll, by its name in copies."""
    return send_file(request, link.consignment, file_in(link.consignment, tag, name))


@require_safe
@by_link
def checksums(request: HttpRequest, link: ClientLink, tag: str) -> HttpResponseBase:
    """The list of a roll's files, as the common programs check it; named as they are fetched."""
    one = _consigned(link, tag)
    sums = {f"{tag}/{from_ledger(row.kept_as or row.path)}": row.checksum for row in files_of(one)}
    return _handed(request, link, format_list(sums), "text/plain; charset=utf-8", f"{tag}.{one.roll.algorithm}")


@require_safe
@by_link
def addresses(request: HttpRequest, link: ClientLink, tag: str) -> HttpResponseBase:
    """The address of every file of a roll, a line each, for programs that fetch."""
    here = request.build_absolute_uri("../")
    lines = "".join(f"{here}{_file(tag, row).address}\n" for row in files_of(_consigned(link, tag)))
    return _handed(request, link, lines.encode(), "text/plain; charset=utf-8", f"{tag}-addresses.txt")


@require_safe
@by_link
def account(request: HttpRequest, link: ClientLink, tag: str, kind: str) -> HttpResponseBase:
    """A roll's account, as it was when this was put together."""
    edition = _consigned(link, tag).edition
    if kind == "pdf":
        return _handed(request, link, paper_made(edition), "application/pdf", f"{tag}-account.pdf")
    made = read_edition(edition)
    if kind == "csv":
        return _handed(request, link, account_table(made), "text/csv; charset=utf-8", f"{tag}-account.csv")
    return _handed(request, link, WHOLE.dump_json(made, indent=1), "application/json", f"{tag}-account.json")


@require_safe
@by_link
def picture(request: HttpRequest, link: ClientLink, file_id: int) -> HttpResponseBase:
    """A small picture of a file that goes."""
    roll = roll_of_file(link.consignment, file_id)
    return sent(picture_of(roll, file_id, PictureKind.SMALL), "image/jpeg", f"{file_id}.jpg")


@require_safe
@by_link
def emblem(request: HttpRequest, link: ClientLink) -> HttpResponseBase:
    """The production's own picture."""
    found = emblem_of(link.consignment.production)
    if found is None:
        raise NotThere("There is none.")
    return sent(bytes(found.picture), "image/jpeg", "production.jpg")


@require_safe
def face(request: HttpRequest, name: str) -> HttpResponse:
    """A font of the page."""
    if name not in _FACES:
        return nothing(request)
    family, weight = _FACES[name]
    answer = HttpResponse(faces(family, weight=weight)[0].packed.read_bytes(), content_type="font/woff2")
    answer["Cache-Control"] = "public, max-age=86400"
    return answer


def _consigned(link: ClientLink, tag: str) -> ConsignedRoll:
    """Raises NotThere."""
    found = next((one for one in consigned(link.consignment) if one.roll.tag == tag), None)
    if found is None:
        raise NotThere("There is no such roll.")
    return found


def _handed(request: HttpRequest, link: ClientLink, made: bytes, kind: str, name: str) -> HttpResponse:
    note_fetched_paper(link.consignment, name, client_address(request))
    return sent(made, kind, name, "inline" if kind == "application/pdf" else "attachment")
