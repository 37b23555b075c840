"""Working files: what of a folder is not as it was, and bringing files back to one."""

from collections.abc import Sequence
from typing import TYPE_CHECKING

from django.http import HttpRequest, HttpResponse
from ninja import File, Path, Router
from ninja.files import UploadedFile

from ruggedraft.core.working import MOST_BYTES, Recipe, read_project_list
from ruggedraft.kit.stations import station_named
from ruggedraft.live.snapshot import one_moment
from ruggedraft.productions.queries import production_named
from ruggedraft.returning.acts.bring_back import bring_back, restore
from ruggedraft.returning.acts.look_into_folder import look_into_folder, stop_looking
from ruggedraft.returning.acts.make_working_copies import make_working_copies
from ruggedraft.returning.acts.take_away import take_away
from ruggedraft.returning.queries import (
    look_of,
    looks_of,
    making_of,
    missing_still,
    returns_of,
    rows_after,
    since,
    tags_of_day,
    take_aways_of,
    unknown_in,
)

from ..answers import written
from ..shapes import REFUSED, Done
from ..who import who
from .shapes import (
    BringBackIn,
    FolderLookDetail,
    FolderLookIn,
    FolderLookOut,
    FolderRowOut,
    MakeIn,
    MakingOut,
    ProjectListOut,
    RestoreIn,
    ReturnOut,
    ReturnsOut,
    TakeAwayIn,
    TakeAwayOut,
)

if TYPE_CHECKING:
    from ruggedraft.productions.models import Production

router = Router(tags=["returns"])


def _tags(here: "Production", given: RestoreIn | MakeIn | TakeAwayIn) -> Sequence[str]:
    return tags_of_day(here, given.day) if given.day else given.tags


@router.get("", response=ReturnsOut)
@one_moment()
def returns(request: HttpRequest, production: Path[str]) -> HttpResponse:
    here = production_named(production)
    return written(
        ReturnsOut(
            looks=[FolderLookOut.of(one) for one in looks_of(here)],
            returns=[ReturnOut.of(one) for one in returns_of(here)],
            making=[MakingOut.of(one) for one in making_of(here)],
            take_aways=[TakeAwayOut.of(one) for one in take_aways_of(here)],
        )
    )


@router.get("/looks/{look_id}", response={200: FolderLookDetail, **REFUSED})
@one_moment()
def look(request: HttpRequest, production: Path[str], look_id: int, after: int = -1) -> HttpResponse:
    """What came of looking into a folder: every file that is not as it was."""
    one = look_of(production_named(production), look_id)
    rows, rest = rows_after(one, after)
    happened = since(one)
    told = [FolderRowOut.of(row, happened) for row in rows]
    return written(
        FolderLookDetail(
            look=FolderLookOut.of(one),
            rows=told,
            missing_still=missing_still(one, happened),
            unknown=unknown_in(one),
            after=rest,
        )
    )


@router.post("/lists", response={200: ProjectListOut, **REFUSED})
def listed(request: HttpRequest, production: Path[str], file: File[UploadedFile]) -> ProjectListOut:
    """The files that a project's list names (CSV or OpenTimelineIO); nothing is kept."""
    production_named(production)
    return ProjectListOut(paths=list(read_project_list(file.read(MOST_BYTES + 1))))


@router.post("/looks", response={200: FolderLookOut, **REFUSED})
def look_into(request: HttpRequest, production: Path[str], given: FolderLookIn) -> FolderLookOut:
    """Have a station say what of a folder is not as it was. Nothing in it is changed."""
    return FolderLookOut.of(
        look_into_folder(
            who(request),
            production_named(production),
            station_named(given.station),
            given.folder,
            by_content=given.by_content,
            list_name=given.list_name,
            listed=given.paths,
        )
    )


@router.delete("/looks/{look_id}", response={200: Done, **REFUSED})
def stop(request: HttpRequest, production: Path[str], look_id: int) -> Done:
    stop_looking(who(request), production_named(production), look_id)
    return Done()


@router.post("/looks/{look_id}/returns", response={200: Done, **REFUSED})
def bring(request: HttpRequest, production: Path[str], look_id: int, given: BringBackIn) -> Done:
    """Have files brought to where they were, from copies; nothing is overwritten."""
    bring_back(
        who(request), look_of(production_named(production), look_id), given.rows, aside=given.aside,
        system_disk_reason=given.system_disk_reason,
    )  # fmt: skip
    return Done()


@router.post("/restores", response={200: Done, **REFUSED})
def bring_rolls(request: HttpRequest, production: Path[str], given: RestoreIn) -> Done:
    """Have rolls, those of a day, or one clip brought to any folder, from copies; nothing is overwritten."""
    here = production_named(production)
    restore(
        who(request), here, station_named(given.station), given.folder,
        _tags(here, given), clip=given.clip,
        system_disk_reason=given.system_disk_reason, bag=given.bag,
    )  # fmt: skip
    return Done()


@router.post("/making", response={200: Done, **REFUSED})
def make(request: HttpRequest, production: Path[str], given: MakeIn) -> Done:
    """Have copies to work with made of recordings; they are counted as copies of nothing."""
    here = production_named(production)
    make_working_copies(
        who(request), here, station_named(given.station), given.folder,
        _tags(here, given), Recipe(given.codec, given.height, given.burn_in),
    )  # fmt: skip
    return Done()


@router.post("/take-aways", response={200: Done, **REFUSED})
def taken_away(request: HttpRequest, production: Path[str], given: TakeAwayIn) -> Done:
    """Have what is seen of rolls written to a folder, with a page that opens on any computer."""
    here = production_named(production)
    tags = _tags(here, given)
    take_away(who(request), here, station_named(given.station), given.folder, tags, words=given.words)
    return Done()
