"""Which ledger a command speaks to: one's own, the demo's, or the one that RAFT_DATABASE_URL names."""

import os
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from urllib.parse import urlsplit

from . import places, postgres
from .problems import CannotGoOn
from .steps import say


@dataclass(frozen=True)
class Ledger:
    """A ledger in the cluster of this folder. `port` is where `./raft start` serves it unless told otherwise."""

    name: str
    database: str
    port: int
    demo: bool

    @property
    def environment(self) -> dict[str, str]:
        """Both may run side by side at one address, so each has session cookies of its own."""
        return {
            "RAFT_STANDINS": "1" if self.demo else "",
            "RAFT_SESSION_COOKIE": f"raft-{'demo' if self.demo else 'own'}",
        }


OWN = Ledger("your own ledger", "raft_ledger_4", 8640, demo=False)
DEMO = Ledger("the demo's ledger", "raft_demo_4", 8642, demo=True)
GIVEN = "RAFT_DATABASE_URL"


def asked_for(words: list[str]) -> tuple[Ledger, list[str]]:
    """Which one `--demo` or its absence means, and the words without it."""
    rest = [word for word in words if word != "--demo"]
    return (DEMO if len(rest) < len(words) else OWN), rest


@contextmanager
def reached(ledger: Ledger) -> Iterator[str | None]:
    """The cluster's address while inside, with the ledger in it; None where the environment names another one.

    Says which ledger it is. Makes none. Raises CannotGoOn where there is none, or it cannot be reached.
    """
    given = os.environ.get(GIVEN)
    if given:
        postgres.require(given)
        parts = urlsplit(given)
        say(f"the ledger is {parts.path.lstrip('/')} at {parts.hostname}, as {GIVEN} says")
        yield None
        return
    how = (
        "`./raft start` makes it." if ledger.demo else "`./raft start --own` begins it; the demo's is meant by --demo."
    )
    if not (postgres.HOME / "made").exists():
        raise CannotGoOn(f"There is no ledger in {places.VAR} yet: {how}")
    with postgres.running() as server:
        if not postgres.has_database(server, ledger.database):
            raise CannotGoOn(f"There is nothing in {places.VAR} that is {ledger.name}: {how}")
        say(f"this is {ledger.name}")
        yield server
