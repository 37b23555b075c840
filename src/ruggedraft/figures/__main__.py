"""`python -m ruggedraft.figures [SECTION …]`, reached as `./raft bench`."""

import argparse
import os
import platform
from collections.abc import Callable
from pathlib import Path

import django

from .comparing import comparing
from .engine import engine, flatness
from .going_on import going_on
from .judging import judging
from .live import live
from .networks import networks
from .packages import packages
from .papers import papers
from .reading import reading
from .screens import screens


def _reading() -> str:
    return _on_a_database("matching")


def _ledger() -> str:
    return _on_a_database("ledger")


def _on_a_database(section: str) -> str:
    """On a database that is made for this and dropped again."""
    django.setup()
    from django.conf import settings
    from django.core.management import call_command

    from ruggedraft.project.database import drop_database, make_database

    from .ledger import ledger
    from .matching import against_the_ledger

    if not str(settings.DATABASES["default"]["NAME"]).endswith("bench"):
        raise SystemExit("raft bench: this would drop a database that is not its own; run it as ./raft bench")
    drop_database()
    make_database()
    try:
        call_command("migrate", verbosity=0)
        return reading(against_the_ledger) if section == "matching" else ledger()
    finally:
        drop_database()


def _engine() -> str:
    """On a disk and in memory; RAFT_BENCH_DISK and RAFT_BENCH_MEMORY name other folders for that, RAFT_BENCH_ONLY some
    lines, as in `disk, 2 stores, tiny`."""
    disk = os.environ.get("RAFT_BENCH_DISK", "/var/tmp")  # noqa: S108 - made and removed by tempfile
    memory = os.environ.get("RAFT_BENCH_MEMORY", "/dev/shm")  # noqa: S108
    if os.geteuid() != 0:
        raise SystemExit("raft bench engine: only root may drop caches")
    only = os.environ.get("RAFT_BENCH_ONLY", "")
    tables = [engine(Path(disk), Path(memory), only=only), flatness(Path(memory), only=only)]
    return "\n\n".join(tables if only else [*tables, going_on(Path(disk))])


def _screens() -> str:
    return _on_the_demo(screens)


def _live() -> str:
    return _on_the_demo(live)


def _pictures() -> str:
    django.setup()
    from .pictures import pictures

    return _on_the_demo(pictures)


def _on_the_demo(section: Callable[[], str]) -> str:
    """On a database that is made for this and dropped again."""
    django.setup()
    from ruggedraft.project.database import drop_database

    drop_database()
    try:
        return section()
    finally:
        drop_database()


SECTIONS: dict[str, Callable[[], str]] = {
    "judging": judging, "reading": _reading, "ledger": _ledger, "engine": _engine, "screens": _screens,
    "live": _live, "comparing": comparing, "networks": networks,
    "pictures": _pictures, "papers": papers, "packages": packages,
}  # fmt: skip


def main() -> None:
    parser = argparse.ArgumentParser(prog="raft bench", description="Measure, and print tables.")
    parser.add_argument("sections", nargs="*", metavar="SECTION", help=f"default all: {', '.join(SECTIONS)}")
    chosen = parser.parse_args().sections or list(SECTIONS)
    unknown = [section for section in chosen if section not in SECTIONS]
    if unknown:
        parser.error(f"there is no section '{unknown[0]}'; there are: {', '.join(SECTIONS)}")
    print(f"{_processor()}, {os.cpu_count()} cores, {_memory()}, Python {platform.python_version()}.\n")
    for section in chosen:
        print(SECTIONS[section](), flush=True)


def _processor() -> str:
    with open("/proc/cpuinfo", encoding="utf-8") as told:  # noqa: PTH123
        names = [line.split(":", 1)[1].strip() for line in told if line.startswith("model name")]
    return names[0] if names else platform.machine()


def _memory() -> str:
    return f"{os.sysconf('SC_PAGE_SIZE') * os.sysconf('SC_PHYS_PAGES') / 2**30:.0f} GiB"


if __name__ == "__main__":
    main()
