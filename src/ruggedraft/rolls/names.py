"""Names of files, kept beside the files so that any three signs of one find it.

They are kept behind everything else: noting what was read of a card of tens of thousands of files must not wait for an
index. A roll whose content has changed since is read itself, so that what is found is always what there is.
"""

from collections.abc import Iterable, Iterator, Sequence
from typing import Any

from django.db import connection
from django.db.models import F, QuerySet

from ruggedraft.core.finding import literally, spellings

from .models import Roll

NAMES = "lower(substring(f.path from '[^/]*$') || ' ' || substring(f.kept_as from '[^/]*$'))"
"""Of a row `f` of files, as they are kept."""
_KEEP = """
INSERT INTO rolls_filename AS n (file_id, roll_id, names)
SELECT f.id, f.roll_id, NAMES FROM rolls_rollfile f WHERE f.roll_id = %(roll)s
ON CONFLICT (file_id) DO UPDATE SET names = excluded.names WHERE n.names <> excluded.names;
INSERT INTO rolls_rollnamed AS r (roll_id, content) VALUES (%(roll)s, %(content)s)
ON CONFLICT (roll_id) DO UPDATE SET content = greatest(r.content, excluded.content);
""".replace("NAMES", NAMES)


def keep_names(most: int = 20) -> int:
    """Keep the names of so many rolls that are behind, one at a time. Returns how many."""
    behind = list(_behind().order_by("-pk").values_list("pk", "content")[:most])
    for roll, content in behind:  # the content was read first: what comes meanwhile is behind again
        with connection.cursor() as cursor:
            cursor.execute(_KEEP, {"roll": roll, "content": content})
    return len(behind)


def _behind() -> QuerySet[Roll]:
    return Roll.objects.exclude(named__content=F("content"))


def rolls_behind(rolls: Iterable[int]) -> list[int]:
    """Of these rolls (ids), those whose names are not all kept."""
    return list(_behind().filter(pk__in=list(rolls)).values_list("pk", flat=True))


def named(word: str) -> list[str]:
    """Patterns of SQL's LIKE, one of which holds of `names` that a word stands in."""
    return [f"%{literally(one)}%" for one in spellings(word)]


_CALLED = """
SELECT n.file_id FROM rolls_filename n WHERE n.roll_id = ANY(%(rolls)s) AND n.names LIKE ANY(%(patterns)s)
UNION ALL
SELECT f.id FROM rolls_rollfile f WHERE f.roll_id = ANY(%(behind)s) AND NAMES LIKE ANY(%(patterns)s)
""".replace("NAMES", NAMES)
_AT_A_TIME = 200


def files_called(rolls: Sequence[int], names: Sequence[str]) -> Iterator[int]:
    """Ids of files of these rolls (ids) in whose name one of these stands; some may come twice."""
    behind = rolls_behind(rolls)
    kept = sorted(set(rolls) - set(behind))
    with connection.cursor() as cursor:
        for n in range(0, len(names), _AT_A_TIME):
            patterns = [pattern for name in names[n : n + _AT_A_TIME] for pattern in named(name)]
            words: dict[str, Any] = {"rolls": kept, "behind": behind, "patterns": patterns}
            cursor.execute(_CALLED, words)
            for (file,) in cursor.fetchall():
                yield file
