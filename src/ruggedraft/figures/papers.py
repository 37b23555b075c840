"""How long it takes to put an account of twenty thousand files on paper, and how much memory."""

import json
import subprocess
import sys
import time
from datetime import UTC, date, datetime, timedelta

from ruggedraft.core.accounts import (
    FORM,
    Account,
    AccountCopy,
    AccountEdition,
    AccountFile,
    AccountOn,
    AccountRoll,
    EditionHead,
)
from ruggedraft.core.redundancy import CopyState, RollState

from .measuring import ROUNDS, say, table

_FILES = 20_000
_AT = datetime(2026, 5, 14, 9, tzinfo=UTC)
_CHILD = "from ruggedraft.figures.papers import measured; measured(int(__import__('sys').argv[1]))"


def papers() -> str:
    """Each round in a process of its own, as the application makes papers; the median of the rounds."""
    rows = []
    for files in (1_000, _FILES):
        found = sorted((_one(files) for _ in range(ROUNDS)), key=lambda one: one["seconds"])
        middle = found[len(found) // 2]
        rows.append(
            (f"{files:,}", middle["pages"], f"{middle['seconds']:.1f} s", f"{middle['memory'] / 1e6:.0f} MB",
             f"{middle['bytes'] / 1e6:.1f} MB")
        )  # fmt: skip
    head = ("files", "pages", "paper, process and all", "most memory", "PDF")
    return "### Papers\n\n" + table(head, rows)


def _one(files: int) -> dict[str, float]:
    say(f"an account of {files:,} files")
    began = time.perf_counter()
    done = subprocess.run([sys.executable, "-c", _CHILD, str(files)], capture_output=True, text=True, check=True)
    found: dict[str, float] = json.loads(done.stdout)
    return found | {"seconds": time.perf_counter() - began}


def measured(files: int) -> None:
    """In the child: makes one, and prints what it came to."""
    import resource

    import django

    django.setup()
    from ruggedraft.reports.documents.account import account_paper
    from ruggedraft.reports.documents.paper import pages_in

    made = account_paper(edition_of(files), lambda digest: None)
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024
    print(json.dumps({"bytes": len(made), "memory": memory, "pages": pages_in(made)}))


def edition_of(files: int) -> AccountEdition:
    """An account of a stills roll of so many files, on two stores."""
    listed = tuple(
        AccountFile(
            f"DCIM/{100 + n // 9999}SKRRW/SKR_{n % 9999 + 1:04}.NEF", f"DCIM/{100 + n // 9999}SKRRW/SKR_{n:06}.NEF",
            24_000_000 + n, _AT + timedelta(seconds=n), f"{n:032x}", {}, waived=False, missing=(),
        )
        for n in range(files)
    )  # fmt: skip
    copies = tuple(
        AccountCopy(name, name, "ssd", "cart", offsite=False, folder="Tidewrack/2026-05-14/S001",
                    state=CopyState.VERIFIED, level="read back", read_at=_AT, files=files, missing_files=0,
                    broken_files=0, left_at=None, readings=(), beside=())
        for name in ("Cart SSD 1", "Cart SSD 2")
    )  # fmt: skip
    nothing = ((),) * 7
    roll = AccountRoll(
        "S001", "S", "Stills", "S-01", date(2026, 5, 14), _AT, "xxh128", RollState.SAFE, "", (), copies, listed,
        *nothing,
    )  # fmt: skip
    account = Account(FORM, "Tidewrack", "0", "UTC", AccountOn.ROLL, "S001", {}, (roll,), ())
    return AccountEdition(EditionHead(1, _AT, "Wren", "0" * 64, 1, "", ""), account)
