"""A stand-in card: a folder with files in it, and a sheet of what a reader would tell."""

import json
import os
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import datetime
from pathlib import Path


@dataclass(frozen=True)
class CardSheet:
    """What a stand-in card is: its file-system serial, the label on its sticker, kind, capacity in bytes.

    volume: the file system's own name. largest_file: bytes a file on it can have, None for no limit.
    clone_of: the serial it claims instead of its own. pointed_at: a folder inside that a slot shows as if it were all.
    worn: ends of the paths of files of which it gives an error the first time that a run reads them.
    """

    serial: str
    label: str
    kind: str
    capacity: int
    volume: str = ""
    largest_file: int | None = None
    clone_of: str = ""
    pointed_at: str = ""
    worn: Sequence[str] = ()


def make_card(home: Path, sheet: CardSheet) -> Path:
    """An empty card; returns the folder that its files go into."""
    folder = home / "cards" / sheet.serial
    folder.mkdir(parents=True, exist_ok=True)
    told = {name: value for name, value in asdict(sheet).items() if name != "serial"}
    folder.with_suffix(".json").write_text(json.dumps(told))
    return folder


def format_card(folder: Path) -> None:
    """What a camera does to a cleared card."""
    for file in sorted(folder.rglob("*"), reverse=True):
        file.rmdir() if file.is_dir() and not file.is_symlink() else file.unlink()


def add_file(folder: Path, path: str, content: bytes, moment: datetime) -> Path:
    """`moment`: when the camera closed it."""
    file = folder / path
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_bytes(content)
    os.utime(file, (moment.timestamp(), moment.timestamp()))
    return file
