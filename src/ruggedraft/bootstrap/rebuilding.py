"""`./raft rebuild`: one's own ledger is made again from records beside the copies, when it and its backups are lost."""

import argparse
import json
import os
import subprocess
from pathlib import Path

from . import app, backups, postgres
from .ledgers import OWN
from .problems import CannotGoOn
from .steps import say


def rebuild(words: list[str]) -> int:
    """Into an empty ledger alone. Changes nothing on the stores."""
    parser = argparse.ArgumentParser(
        prog="raft rebuild", description="Make your own ledger again from the records beside the copies on stores."
    )
    parser.add_argument("--name", required=True, help="yours: you are its supervisor")
    parser.add_argument("stores", nargs="*", type=Path, metavar="STORE",
                        help="a store's folder; without one, all that are plugged in")  # fmt: skip
    options = parser.parse_args(words)
    if os.environ.get("RAFT_DATABASE_URL"):
        raise CannotGoOn("RAFT_DATABASE_URL names a database of its own: use `manage.py rebuild_ledger` on it.")
    app.set_up()
    with app.stopped(OWN), postgres.running() as server:
        backups.make_room(server, OWN, keep_old=False)
        owner = app.environment(server, OWN.database, owner=True) | OWN.environment
        app.run_own([*app.manage_command(), "prepare"], owner)
        env = app.environment(server, OWN.database) | OWN.environment
        where = [str(folder.absolute()) for folder in options.stores]
        command = [*app.manage_command(), "rebuild_ledger", "--name", options.name, "--station", app.STATION, *where]
        asked = subprocess.run(command, env=env, capture_output=True, text=True)
    if asked.returncode:
        said = asked.stderr.strip().splitlines() or ["no reason was given"]
        raise CannotGoOn(said[-1].removeprefix("CommandError: "))
    _tell(json.loads(asked.stdout))
    return 0


def _tell(made: dict[str, list[str] | str]) -> None:
    for sentence in made["passed_over"]:
        say(sentence)
    rolls, copies, stores = (len(made[what]) for what in ("rolls", "copies", "stores"))
    say(f"{rolls} rolls with {copies} copies on {stores} stores are in the ledger again, as far as their records tell")
    say("no copy counts before it is read again: every one of them is checked as soon as you start it")
    say("clearances, waivers and holds are in no record: judge each card anew, and look whether the rule is yours")
    say(f"start it with `./raft start --own`, and choose a password at its address with  /join#{made['secret']}")
