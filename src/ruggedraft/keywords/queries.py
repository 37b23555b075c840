"""What is said of files, what words were used before, and where it lies beside copies."""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from django.db.models import Count, Max

from ruggedraft.core.sidecars import Tags
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Copy

from .models import Beside, Described, SaidAs, Saying

_PROPOSED = 12


@dataclass(frozen=True)
class SaidOf:
    """Of a file. beside: names of stores where it lies beside the copy. waiting: of those where it does not yet

    trouble: why it does not somewhere, each a sentence
    """

    tags: Tags
    beside: Sequence[str] = ()
    waiting: Sequence[str] = ()
    trouble: Sequence[str] = ()


def tags_said(files: Iterable[int]) -> dict[int, Tags]:
    """By file (ids), what holds; nothing of files of which nothing does. Keywords in the order of the alphabet."""
    said: dict[int, dict[str, list[str]]] = {}
    rows = Saying.objects.filter(file__in=list(files), withdrawn_at=None).order_by("text", "pk")
    for file, what, text in rows.values_list("file", "what", "text"):
        said.setdefault(file, {}).setdefault(what, []).append(text)
    return {
        file: Tags(
            rights="".join(found.get(SaidAs.RIGHTS, ())),
            keywords=tuple(found.get(SaidAs.KEYWORD, ())),
            notes="".join(found.get(SaidAs.CAPTION, ())),
        )
        for file, found in said.items()
    }


def said_of(files: Iterable[int]) -> dict[int, SaidOf]:
    """By file (ids), of those of which anything was ever said; in a fixed number of queries."""
    ids = list(files)
    tags = tags_said(ids)
    changes = dict(Described.objects.filter(file__in=ids).values_list("file", "changes"))
    stores = _stores(changes)
    written = {
        (row.file_id, row.copy_id): row for row in Beside.objects.filter(file__in=list(changes)).order_by("copy_id")
    }
    return {file: _said(tags.get(file, Tags()), changes[file], stores.get(file, {}), file, written) for file in changes}


def _stores(files: Iterable[int]) -> dict[int, dict[int, str]]:
    """By file and copy (ids), the store's name."""
    rows = Copy.objects.filter(roll__files__in=list(files), readings__isnull=False).distinct()
    found: dict[int, dict[int, str]] = {}
    for file, copy, name in rows.order_by("store__position").values_list("roll__files", "pk", "store__name"):
        found.setdefault(file, {})[copy] = name
    return found


def _said(
    tags: Tags, changes: int, stores: Mapping[int, str], file: int, written: Mapping[tuple[int, int], Beside]
) -> SaidOf:
    beside, waiting, trouble = [], [], []
    for copy, name in stores.items():
        row = written.get((file, copy))
        if row is None or row.changes != changes:
            waiting.append(name)
        elif row.trouble:
            trouble.append(f"{name}: {row.trouble}")
        else:
            beside.append(name)
    return SaidOf(tags, beside, waiting, trouble)


def proposed(production: Production, text: str) -> list[str]:
    """Keywords that were used before and have a word that begins so, what was used most and last first."""
    rows = Saying.objects.filter(roll__production=production, what=SaidAs.KEYWORD, withdrawn_at=None)
    if begins := text.strip().lower()[:64]:
        rows = rows.filter(text__regex=rf"(^|\s|-){re.escape(begins)}")
    used = rows.values("text").annotate(count=Count("pk"), last=Max("pk")).order_by("-count", "-last")
    return [row["text"] for row in used[:_PROPOSED]]
