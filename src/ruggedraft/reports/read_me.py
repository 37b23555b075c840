"""A few plain words beside a copy, for whoever plugs the drive in years from now and knows nothing of us."""

import textwrap
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

_CHECKED_WITH = {"xxh128": "xxhsum", "xxh64": "xxhsum", "md5": "md5sum", "sha1": "sha1sum", "sha256": "sha256sum",
                 "blake3": "b3sum"}  # fmt: skip


@dataclass(frozen=True)
class ReadMe:
    """What it says. folder: where the files are, beside this; package: it is one file, that has to be unpacked first

    lists: checksum lists beside it, by name, each with its algorithm. accounts: files of the account, by name
    """

    production: str
    tag: str
    to: str
    by: str
    at: datetime
    files: int
    bytes: int
    folder: str
    package: bool
    lists: Sequence[tuple[str, str]]
    accounts: Sequence[str]


def read_me(said: ReadMe) -> bytes:
    """Plain text, in lines that any window shows whole. It names nothing that was not found beside the copy."""
    lines = [
        f"{said.production}: roll {said.tag}",
        "",
        *_wrapped(f"Put together for {said.to} by {said.by} on {said.at:%Y-%m-%d}."),
        *_wrapped(f"{said.files:,} files, {said.bytes:,} bytes, {_where(said)}."),
        "",
        *_checking(said),
    ]
    if said.accounts:
        lines += ["", *_wrapped("What is known of every file, with its checksum and the time it was recorded, is in:")]
        lines += [f"    {name}" for name in said.accounts]
    return ("\n".join(lines) + "\n").encode("utf-8", "backslashreplace")


def _where(said: ReadMe) -> str:
    if said.package:
        return f"in the archive '{said.folder}.tar', which 'tar -xf' or a double click unpacks"
    return f"in the folder '{said.folder}'"


def _checking(said: ReadMe) -> list[str]:
    if not said.lists:
        return _wrapped("No checksum list lies beside it.")
    what = "once it is unpacked" if said.package else "here"
    lines = _wrapped(f"Whether each file is still as it was, these commands tell, run {what}:")
    return [*lines, *(f"    {_CHECKED_WITH[algorithm]} -c {name}" for name, algorithm in said.lists)]


def _wrapped(text: str) -> list[str]:
    return textwrap.wrap(text, 78)
