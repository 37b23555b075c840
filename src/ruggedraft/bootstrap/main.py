"""The `./raft` command and its subcommands. Each imports what it needs itself: starting is to take no time."""

import os
import sys
from collections.abc import Callable
from importlib import import_module
from pathlib import Path

from . import places
from .problems import CannotGoOn

USAGE = """usage: ./raft COMMAND …

  start [--own] [--port N]       set up what is missing and run the application until Ctrl-C: the demo, or your own
  test [LABEL …] [--long]        set up what is missing, check everything, run the tests
  copy SOURCE --to DIR …         copy a tree to several folders, verified; needs no database
  verify LIST                    re-read the files of a checksum list; needs no database
  compare LEFT RIGHT             what differs between two folders, and fill the right one; needs no database
  offload SOURCE --plan PLAN …   the same job through the ledger, as the interface does it
  bench [SECTION …]              measure, and print tables; see docs/benchmarks.md
  station NAME [--join …]        run one station's worker and readers; on another machine, join with a ticket
  backup FILE                    write all of the ledger into one file, while people work
  restore FILE                   make the ledger again from one
  rebuild --name YOU [STORE …]   make your ledger again from the records on stores, when all else is lost
  doctor                         what is wrong here, and what mends it
  install, uninstall             a service that starts with this machine, or no more; needs root and systemd
  set-up                         install and build what is missing, and start nothing
  manage …                       Django's own commands

offload, station, backup, restore and manage mean your own ledger; with --demo the demo's. RAFT_DATABASE_URL wins.
./raft COMMAND --help says more of each; ./raft --version says which this is.
"""


def main(words: list[str]) -> int:
    if words[:1] == ["--version"]:
        print(version())
        return 0
    if not words or words[0] in ("-h", "--help"):
        print(USAGE, end="")
        return 0 if words else 2
    command = COMMANDS.get(words[0])
    if command is None:
        print(f"raft: there is no command '{words[0]}'.\n\n{USAGE}", file=sys.stderr, end="")
        return 2
    try:
        return command(words[1:])
    except CannotGoOn as problem:
        print(f"raft: {problem}", file=sys.stderr)
        return 2
    except KeyboardInterrupt:
        return 130


def version() -> str:
    """Of the project file, where alone it stands."""
    import tomllib

    with (places.ROOT / "pyproject.toml").open("rb") as project:
        return str(tomllib.load(project)["project"]["version"])


def _core_command(name: str) -> Callable[[list[str]], int]:
    def command(words: list[str]) -> int:
        from . import python_env
        from .steps import become, one_at_a_time

        places.make_var()
        with one_at_a_time():
            python_env.ensure(development=False)
        return become([str(places.VENV_PYTHON), "-m", "ruggedraft.commands", name, *words])

    return command


def _start(words: list[str]) -> int:
    import argparse

    from . import app
    from .ledgers import DEMO, OWN

    parser = argparse.ArgumentParser(prog="raft start", description="Run the application until Ctrl-C.")
    parser.add_argument("--own", action="store_true", help="your own ledger, empty at first, and no stand-ins")
    parser.add_argument("--port", type=int, help=f"default {DEMO.port}, with --own {OWN.port}")
    parser.add_argument("--listen", metavar="ADDRESS", default="127.0.0.1",
                        help="serve a network too, over HTTPS; 0.0.0.0 is every address of this machine")  # fmt: skip
    parser.add_argument("--certificate", type=Path, metavar="FILE", help="your own, with --key; else one is made")
    parser.add_argument("--key", type=Path, metavar="FILE")
    parser.add_argument("--mount-cards", action="store_true",
                        help="mount cards read-only, where no desktop does it; needs root")  # fmt: skip
    parser.add_argument("--stations", action="store_true",
                        help="with --listen: stations on other machines may join, over TLS")  # fmt: skip
    parser.add_argument("--plain-http", action="store_true", help="serve a network without encryption")
    options = parser.parse_args(words)
    if bool(options.certificate) != bool(options.key):
        parser.error("--certificate and --key go together")
    if options.mount_cards:
        os.environ["RAFT_MOUNT_CARDS"] = "1"
    ledger = OWN if options.own else DEMO
    net = app.Net(options.listen, options.certificate, options.key, plain=options.plain_http, stations=options.stations)
    return app.start(ledger, port=options.port or ledger.port, net=net)


def _test(words: list[str]) -> int:
    import argparse

    from . import checks

    parser = argparse.ArgumentParser(prog="raft test", description="Check everything and run the tests.")
    parser.add_argument("labels", nargs="*", help="core, server, browser, or a dotted test name; default all")
    parser.add_argument("--long", action="store_true", help="inject every fault and kill the worker more often")
    options = parser.parse_args(words)
    return checks.test(options.labels, long=options.long)


def _of(module: str, name: str, *first: str) -> Callable[[list[str]], int]:
    """A function of a module of this package, which is imported when it is wanted. first: words that go before"""

    def command(words: list[str]) -> int:
        act: Callable[[list[str]], int] = getattr(import_module(f"{__package__}.{module}"), name)
        return act([*first, *words])

    return command


COMMANDS: dict[str, Callable[[list[str]], int]] = {
    "start": _start,
    "test": _test,
    "copy": _core_command("copy"),
    "verify": _core_command("verify"),
    "compare": _core_command("compare"),
    "offload": _of("app", "manage", "offload"),
    "bench": _of("app", "bench"),
    "station": _of("joining", "station"),
    "manage": _of("app", "manage"),
    "backup": _of("backups", "backup"),
    "restore": _of("backups", "restore"),
    "rebuild": _of("rebuilding", "rebuild"),
    "doctor": _of("doctor", "doctor"),
    "set-up": _of("installing", "set_up"),
    "install": _of("installing", "install"),
    "uninstall": _of("installing", "uninstall"),
}
