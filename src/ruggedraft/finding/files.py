"""Files by their names, and by what people said of them: one question to the database, whatever the ledger holds."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

from django.db import OperationalError, connection, transaction
from psycopg.errors import QueryCanceled

from ruggedraft.core.finding import LEAST, spellings

from .words import Around

MOST = 1000
_PATIENCE_MS = 3000
# as migration rolls.0009 indexes it
_NAMED = "lower(substring(f.path from '[^/]*$') || ' ' || substring(f.kept_as from '[^/]*$')) LIKE %s"
_LOOK = "SELECT f.roll_id, f.path, f.id FROM rolls_rollfile f WHERE "
_OF_ROLLS, _AMONG = "f.roll_id = ANY(%s)", "f.id = ANY(%s)"


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
    """Files in which every word stands: in its name, in what is said of it, or in its roll's tag, card, camera or day.

    At least one of the words must be the file's own, or every file of a roll would come with the roll.
    said: of each word, ids of files of which somebody said it
    """
    own = {word: _own(word, said.get(word, ())) for word in words}
    if not around.rolls or not any(own.values()):
        return Hits()
    clauses = [_Clause(_OF_ROLLS, (list(around.rolls),)), _any_of([part for mine in own.values() for part in mine])]
    for word, mine in own.items():
        rolls = around.of[word]
        if not mine and not rolls:
            return Hits()
        if len(rolls) < len(around.rolls):
            clauses.append(_any_of([*mine, *([_Clause(_OF_ROLLS, (list(rolls),))] if rolls else [])]))
    return _found(_joined(" AND ", clauses))


def _own(word: str, said: Sequence[int]) -> list[_Clause]:
    """What of a file may hold the word. Fewer signs than the index has would read every name."""
    named = spellings(word) if len(word) >= LEAST else []
    found = [_Clause(_NAMED, (f"%{_literally(one)}%",)) for one in named]
    return [*found, _Clause(_AMONG, (list(said),))] if said else found


def _literally(word: str) -> str:
    for sign in ("\\", "%", "_"):
        word = word.replace(sign, f"\\{sign}")
    return word


def _any_of(clauses: Sequence[_Clause]) -> _Clause:
    found = _joined(" OR ", clauses)
    return _Clause(f"({found.sql})", found.words)


def _joined(by: str, clauses: Sequence[_Clause]) -> _Clause:
    return _Clause(by.join(one.sql for one in clauses), tuple(word for one in clauses for word in one.words))


def _found(where: _Clause) -> Hits:
    try:
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("SELECT set_config('statement_timeout', %s, true)", [str(_PATIENCE_MS)])
            cursor.execute(_LOOK + where.sql + " LIMIT %s", [*where.words, MOST + 1])
            rows: list[Any] = cursor.fetchall()
            cursor.execute("SELECT set_config('statement_timeout', '0', true)")
    except OperationalError as error:
        if not isinstance(error.__cause__, QueryCanceled):
            raise
        return Hits(gave_up=True)
    files = sorted((Hit(*row) for row in rows[:MOST]), key=lambda one: (-one.roll, one.path))
    return Hits(files, more=len(rows) > MOST)
