"""What one box finds: things by their names, what people said, and files with how to get to them."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from ruggedraft.clearing.tally import Sought
from ruggedraft.clearing.where import FoundThing, where_is, where_store_is
from ruggedraft.core.finding import words_of
from ruggedraft.core.packages import package_name
from ruggedraft.core.stores import StoreKind
from ruggedraft.keywords.queries import SaidOf, said_of
from ruggedraft.pictures.queries import ClipSeen, seen_of
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import RollFile
from ruggedraft.rolls.queries import HeldOn, where_held
from ruggedraft.stores.queries import is_lost, sighting_of

from .files import Hit, Hits, hits
from .said import Said, files_said, said_with
from .words import rolls_around

_A_PAGE = 24


@dataclass(frozen=True)
class FilePlace:
    """A store that is known to hold a file. path: in the store's folder, in the ledger's form

    where: the store, in words; since: when that was noted. connected: a station sees it now
    """

    store: str
    path: str
    where: str
    since: datetime | None
    connected: bool
    lost: bool


@dataclass(frozen=True)
class FoundFile:
    """places: the easiest to get to first. unread: it was never read off its card, so that no copy can hold it

    said: None where nothing ever was
    """

    seen: ClipSeen
    places: Sequence[FilePlace]
    unread: bool
    said: SaidOf | None


@dataclass(frozen=True)
class Found:
    """things: by their names alone. said_more: there is more of what was said

    files: a page of them. after: what to ask for to get the next ones; None on the last page
    files_in_all: so many are shown, page by page. files_more: further ones fit; these are some of them
    gave_up: the database took too long to look for files
    """

    things: Sequence[FoundThing]
    said: Sequence[Said]
    said_more: bool
    files: Sequence[FoundFile]
    after: str | None
    files_in_all: int
    files_more: bool
    gave_up: bool


def found(production: Production, text: str, sought: Sought, after: str = "") -> Found:
    """Everything in which every word of the text stands. Raises ActRefused for more than anybody looks for.

    sought: narrows files and what is said of them by day, camera and store
    """
    words = words_of(text)
    around = rolls_around(production, words, sought)
    said, said_more = ((), False) if after else said_with(production, words, around)
    of_files = hits(words, around, files_said(production, words))
    page, following = _page(of_files, after)
    return Found(
        things=[] if after or not words else where_is(production, text), said=said, said_more=said_more,
        files=_told(page), after=following, files_in_all=len(of_files.files),
        files_more=of_files.more, gave_up=of_files.gave_up,
    )  # fmt: skip


def _page(of_files: Hits, after: str) -> tuple[list[Hit], str | None]:
    """The next ones, and what to ask for after them: the roll's id and the path of the last."""
    roll, _, path = after.partition("/")
    left = [one for one in of_files.files if not after or (-one.roll, one.path) > (-_number(roll), path)]
    page = left[:_A_PAGE]
    return page, f"{page[-1].roll}/{page[-1].path}" if len(left) > _A_PAGE else None


def _number(text: str) -> int:
    return int(text) if text.isdecimal() and len(text) < 19 else 0


def _told(page: Sequence[Hit]) -> list[FoundFile]:
    seen = seen_of(one.file for one in page)
    held = where_held(one.file for one in seen.values())
    said = said_of(seen)
    return [_file(seen[one.file], held[one.file], said.get(one.file)) for one in page if one.file in seen]


def _file(seen: ClipSeen, held: Sequence[HeldOn], said: SaidOf | None) -> FoundFile:
    places = [_place(seen.file, one) for one in held]
    places.sort(key=lambda one: (one.lost, not one.connected))
    return FoundFile(seen, places, unread=not seen.file.checksum, said=said)


def _home(held: HeldOn) -> str:
    """Where a copy's files lie: in its folder, or in its sealed package."""
    return package_name(held.copy.folder) if held.store.kind == StoreKind.PACKAGES else held.copy.folder


def _place(file: RollFile, held: HeldOn) -> FilePlace:
    where, since = where_store_is(held.store)
    sighting, lost = sighting_of(held.store), is_lost(held.store)
    return FilePlace(
        held.store.name, f"{_home(held)}/{file.kept_as or file.path}", where, since,
        connected=bool(sighting and sighting.online) and not lost, lost=lost,
    )  # fmt: skip
