"""Files by their names, and by what people said of them: one question to the database, whatever the ledger holds."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

from django.db import OperationalError, connection, transaction
from psycopg.errors import QueryCanceled

from ruggedraft.core.finding import LEAST
from ruggedraft.footage.queries import gear_called
from ruggedraft.rolls.names import NAMES, named, rolls_behind

from .words import Around

MOST = 1000
_PATIENCE_MS = 3000
_LOOK = """
SELECT n.roll_id, f.path, n.file_id
FROM (SELECT * FROM rolls_filename n WHERE n.roll_id = ANY(%s) AND {where} LIMIT %s) n
JOIN rolls_rollfile f ON f.id = n.file_id
"""
_LOOK_BEHIND = """
SELECT n.roll_id, n.path, n.file_id
FROM (SELECT f.id AS file_id, f.roll_id, f.path, NAMES AS names FROM rolls_rollfile f WHERE f.roll_id = ANY(%s)) n
WHERE {where} LIMIT %s
""".replace("NAMES", NAMES)
"""The same of rolls whose names are not all kept yet."""
_NAMED, _OF_ROLLS, _AMONG = "n.names LIKE %s", "n.roll_id = ANY(%s)", "n.file_id = ANY(%s)"
_MADE_WITH = """n.file_id IN (
SELECT k.file_id FROM rolls_filemedia k JOIN footage_media m ON m.id = k.media_id WHERE m.gear_id = ANY(%s))"""


class Hit(NamedTuple):
    """A file that was found. roll, file: ids"""

    roll: int
    path: str
    file: int


@dataclass(frozen=True)
class Hits:
    """files: the newest roll first, then by path. more: there are further ones, and these are any thousand of them

    gave_up: the database took too long to look
    """

    files: Sequence[Hit] = ()
    more: bool = False
    gave_up: bool = False


class _Clause(NamedTuple):
    sql: str
    words: tuple[Any, ...]


def hits(words: Sequence[str], around: Around, said: Mapping[str, Sequence[int]]) -> Hits:
    """Files in which every word stands: in its name, in what is said of it, in what it was recorded with, or in its
    roll's tag, card, camera or day.

    At least one of the words must be the file's own, or every file of a roll would come with the roll.
    said: of each word, ids of files of which somebody said it
    """
    own = {word: [*_own(word, said.get(word, ())), *_made_with(word)] for word in words}
    of_the_file = [part for mine in own.values() for part in mine]
    standing = [_standing(mine, around.of[word]) for word, mine in own.items() if not _everywhere(word, around)]
    if not around.rolls or not of_the_file or not all(standing):
        return Hits()
    return _found(around.rolls, _joined(" AND ", [_any_of(of_the_file), *map(_any_of, standing)]))


def _everywhere(word: str, around: Around) -> bool:
    """Whether a word stands in every roll that is looked in, so that it narrows nothing."""
    return len(around.of[word]) == len(around.rolls)


def _standing(mine: Sequence[_Clause], rolls: Sequence[int]) -> list[_Clause]:
    """Where a word may stand: in the file itself, or in one of these rolls."""
    return [*mine, *([_Clause(_OF_ROLLS, (list(rolls),))] if rolls else [])]


def _own(word: str, said: Sequence[int]) -> list[_Clause]:
    """What of a file may hold the word. Fewer signs than the index has would read every name."""
    found = [_Clause(_NAMED, (pattern,)) for pattern in named(word)] if len(word) >= LEAST else []
    return [*found, _Clause(_AMONG, (list(said),))] if said else found


def _made_with(word: str) -> list[_Clause]:
    """What a camera or lens that is called so recorded."""
    gear = gear_called(word)
    return [_Clause(_MADE_WITH, (gear,))] if gear else []


def _any_of(clauses: Sequence[_Clause]) -> _Clause:
    found = _joined(" OR ", clauses)
    return _Clause(f"({found.sql})", found.words)


def _joined(by: str, clauses: Sequence[_Clause]) -> _Clause:
    return _Clause(by.join(one.sql for one in clauses), tuple(word for one in clauses for word in one.words))


def _found(rolls: Sequence[int], where: _Clause) -> Hits:
    behind = rolls_behind(rolls)
    kept = sorted(set(rolls) - set(behind))
    try:
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("SELECT set_config('statement_timeout', %s, true)", [str(_PATIENCE_MS)])
            rows: list[Any] = []
            for look, among in ((_LOOK, kept), (_LOOK_BEHIND, behind)):
                if among:
                    cursor.execute(look.format(where=where.sql), [among, *where.words, MOST + 1])
                    rows += cursor.fetchall()
            cursor.execute("SELECT set_config('statement_timeout', '0', true)")
    except OperationalError as error:
        if not isinstance(error.__cause__, QueryCanceled):
            raise
        return Hits(gave_up=True)
    files = sorted((Hit(*row) for row in rows[:MOST]), key=lambda one: (-one.roll, one.path))
    return Hits(files, more=len(rows) > MOST)
