"""Keywords, captions and rights of files."""

from django.http import HttpRequest
from ninja import Path, Router

from ruggedraft.keywords.acts.say_of_files import say_of_files
from ruggedraft.keywords.queries import proposed
from ruggedraft.productions.queries import production_named

from ..shapes import REFUSED
from ..who import who
from .shapes import FilesSaidOut, ProposedOut, SayIn

router = Router(tags=["keywords"])


@router.get("", response=ProposedOut)
def earlier(request: HttpRequest, production: Path[str], text: str = "") -> ProposedOut:
    """Keywords of earlier files, with a word that begins so."""
    return ProposedOut(keywords=proposed(production_named(production), text))


@router.post("", response={200: FilesSaidOut, **REFUSED})
def say(request: HttpRequest, production: Path[str], given: SayIn) -> FilesSaidOut:
    """Say something of many files at once; it is written beside their copies, the originals stay as they are."""
    files = [(one.tag, one.path) for one in given.files]
    return FilesSaidOut(files=say_of_files(who(request), production_named(production), files, given.says()))
