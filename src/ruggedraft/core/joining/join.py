"""Joining with ffmpeg's concat demuxer and stream copy, then proving that every packet came through."""

import json
import os
import subprocess
import tempfile
from collections.abc import Sequence
from pathlib import Path

from ..errors import RaftError

_LONGEST = 3600 * 6  # seconds
_PROBE = [
    "ffprobe", "-v", "error", "-show_packets", "-show_data_hash", "md5",
    "-show_entries", "packet=stream_index,data_hash", "-of", "json=compact=1",
]  # fmt: skip


class JoinFailed(RaftError):
    """The parts could not be joined, or the result is not what they hold; nothing was left behind."""


def join(parts: Sequence[Path], target: Path) -> None:
    """Write the parts, in order, as one file under `target`, which must not exist. The parts are only read.

    The file appears under its name only after its packets were compared with the parts'. Raises JoinFailed.
    """
    if target.exists():
        raise JoinFailed(f"{target.name} is there already; it was left alone")
    unfinished = target.with_name(f".{target.name}.joining{target.suffix}")
    try:
        _concat(parts, unfinished)
        wanted = _after_one_another([packets(part) for part in parts])
        if packets(unfinished) != wanted:
            raise JoinFailed("the joined file does not hold the parts' packets; it was thrown away")
        with unfinished.open("rb") as file:
            os.fsync(file.fileno())
        os.link(unfinished, target)
    except FileExistsError as error:
        raise JoinFailed(f"{target.name} is there already; it was left alone") from error
    except OSError as error:
        raise JoinFailed(f"it could not be written: {error.strerror}") from error
    finally:
        unfinished.unlink(missing_ok=True)


def packets(path: Path) -> dict[int, list[str]]:
    """The hash of each packet's data, in order, by stream. Raises JoinFailed where the file cannot be read."""
    found: dict[int, list[str]] = {}
    for packet in json.loads(_run([*_PROBE, str(path)])).get("packets", []):
        found.setdefault(packet["stream_index"], []).append(packet["data_hash"])
    if not found:
        raise JoinFailed(f"there is nothing to play in {path.name}")
    return found


def _after_one_another(parts: Sequence[dict[int, list[str]]]) -> dict[int, list[str]]:
    if len({frozenset(part) for part in parts}) != 1:
        raise JoinFailed("the parts do not have the same streams: they are not chapters of one recording")
    return {stream: [one for part in parts for one in part[stream]] for stream in parts[0]}


def _concat(parts: Sequence[Path], target: Path) -> None:
    with tempfile.NamedTemporaryFile("w", suffix=".txt", encoding="utf-8", errors="surrogateescape") as script:
        script.writelines(f"file '{_quoted(part)}'\n" for part in parts)
        script.flush()
        words = [
            "-f",
            "concat",
            "-safe",
            "0",
            "-auto_convert",
            "0",
            "-i",
            script.name,
            "-map",
            "0:v?",
            "-map",
            "0:a?",
            "-c",
            "copy",
        ]
        _run(["ffmpeg", "-v", "error", "-nostdin", "-n", *words, str(target)])


def _quoted(path: Path) -> str:
    """As the concat script wants names: in single quotes, a quote itself outside them (ffmpeg-utils, 'Quoting')."""
    return str(path.resolve()).replace("'", r"'\''")


def _run(words: Sequence[str]) -> str:
    try:
        done = subprocess.run(words, capture_output=True, timeout=_LONGEST, check=False)
    except (OSError, subprocess.TimeoutExpired) as error:
        raise JoinFailed(f"{words[0]} did not do it: {error}") from error
    if done.returncode:
        said = done.stderr.decode(errors="replace").strip().splitlines()
        raise JoinFailed(f"{words[0]} refused: {said[-1] if said else 'it gave no reason'}")
    return done.stdout.decode(errors="replace")
