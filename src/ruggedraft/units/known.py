"""What is known of a unit's rows while one of its files is taken in."""

from collections.abc import Callable
from dataclasses import dataclass, field

from ruggedraft.crew.models import Person
from ruggedraft.productions.models import Production

from .models import UnitRow
from .reading import HandedIn


@dataclass
class Joined:
    """What came of it. rolls, copies: that are new here. readings: of copies. conflicts: sentences"""

    rolls: list[str] = field(default_factory=list)
    copies: int = 0
    readings: int = 0
    conflicts: list[str] = field(default_factory=list)


class Known:
    """rows: which row here is which of theirs, by the kind of line and their id."""

    def __init__(self, person: Person, production: Production, said: HandedIn) -> None:
        self.person, self.production, self.said, self.unit = person, production, said, said.unit
        self.rows = {(row.kind, row.theirs): row.ours for row in UnitRow.objects.filter(unit=said.unit)}
        self.done = Joined()

    def ours(self, kind: str, theirs: int) -> int | None:
        """None where it was not taken in."""
        return self.rows.get((kind, theirs))

    def note(self, kind: str, theirs: int, ours: int) -> int:
        """From now on these two are one."""
        UnitRow.objects.create(unit=self.unit, kind=kind, theirs=theirs, ours=ours)
        self.rows[kind, theirs] = ours
        return ours

    def conflict(self, words: str) -> None:
        """Something was not taken in, or has to be looked at: a sentence."""
        self.done.conflicts.append(words)

    def free(self, name: str, taken: Callable[[str], bool]) -> str:
        """A name that nothing here has."""
        wanted = [name, f"{name[:60]} ({self.unit.name})", *(f"{name[:60]} ({n})" for n in range(2, 1000))]
        return next(one for one in wanted if not taken(one))
