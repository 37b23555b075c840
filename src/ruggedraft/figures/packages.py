"""A roll in one file, in the forms that ordinary systems open: how long it takes, what it holds, what is lost."""

import os
import shutil
import subprocess
import tempfile
import zipfile
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path

from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import FolderSource, list_card
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.stores.packages import PackageStore
from ruggedraft.core.transfer import Target, transfer

from .measuring import in_turns, table

_STILLS, _STILL = 2_000, 500_000
_CLIPS, _CLIP = 2, 700 << 20
_HOLE = (4 << 30) + 5
_ODD = (b"caf\xe9.MOV", b"back\\slash", b"new\nline", b"x" * 250, b"Clip.mov", b"clip.mov")
_ROUNDS = 3
_NAME = "A012"
_ONE = "CONTENTS/C1.MOV"


@dataclass(frozen=True)
class _Form:
    """Commands of a shell, in the folder that the roll lies in. program: what has to be there"""

    program: str
    write: str
    verify: str
    one: str
    listed: str


_FORMS: Mapping[str, _Form] = {
    "TAR": _Form("tar", "tar --format=posix -cf r A012", "tar -xOf r >/dev/null",
                 f"tar -xf r -C o A012/{_ONE}", "tar -tf r"),
    "ZIP64": _Form("unzip", "", "unzip -tq r >/dev/null", f"unzip -qo r A012/{_ONE} -d o", "unzip -Z1 r"),
    "SquashFS": _Form("mksquashfs", "mksquashfs A012 r -noI -noD -noF -noX -no-xattrs -quiet -no-progress -noappend",
                      "unsquashfs -q -n -d v r >/dev/null; rm -rf v", f"unsquashfs -q -n -f -d o r {_ONE}",
                      "unsquashfs -l r"),
    "ISO 9660": _Form("xorriso", "xorriso -as mkisofs -quiet -iso-level 3 -R -o r A012",
                      "xorriso -indev r -osirrox on -extract / v 2>/dev/null; chmod -R u+w v; rm -rf v",
                      f"xorriso -indev r -osirrox on -extract /{_ONE} o/C1.MOV 2>/dev/null",
                      "xorriso -indev r -find / 2>/dev/null"),
}  # fmt: skip


def packages() -> str:
    """On the disk of /var/tmp or RAFT_BENCH_DISK, every cache dropped before each act; the others' own programs."""
    if os.geteuid() != 0:
        raise SystemExit("raft bench packages: only root may drop caches")
    home = Path(tempfile.mkdtemp(dir=os.environ.get("RAFT_BENCH_DISK", "/var/tmp")))  # noqa: S108
    try:
        _fill(home / _NAME)
        there = {name: form for name, form in _FORMS.items() if shutil.which(form.program)}
        rows = [_row(home, "ours (TAR)", _FORMS["TAR"], lambda: _ours(home)), *_others(home, there)]
        missing = [f"{name}: {form.program} is not installed" for name, form in _FORMS.items() if name not in there]
    finally:
        shutil.rmtree(home)
    head = ("", "write and sync", "verify", "one clip", "list", "in the file", "on disk", "odd names", "times")
    return "\n".join(("### Packages\n", table(head, rows), *missing))


def _others(home: Path, forms: Mapping[str, _Form]) -> list[tuple[str, ...]]:
    def _write(name: str, form: _Form) -> Callable[[], object]:
        return (lambda: _zip(home)) if name == "ZIP64" else (lambda: _sh(home, form.write))

    return [_row(home, name, form, _write(name, form)) for name, form in forms.items()]


def _row(home: Path, name: str, form: _Form, write: Callable[[], object]) -> tuple[str, ...]:
    package = home / "r"

    def _write() -> None:
        write()
        os.sync()

    def _before() -> None:
        package.unlink(missing_ok=True)
        _drop()

    taken = in_turns({f"{name}, write": _write}, rounds=_ROUNDS, before=_before)
    (home / "o").mkdir(exist_ok=True)
    acts = {what: lambda words=words: _sh(home, words) for what, words in
            (("verify", form.verify), ("one", form.one), ("list", form.listed))}  # fmt: skip
    taken |= in_turns(acts, rounds=_ROUNDS, before=_drop)
    facts = package.stat()
    odd, times = _kept(home)
    shutil.rmtree(home / "o")
    package.unlink()
    return (
        name, *(f"{seconds:.2f} s" for seconds in taken.values()), f"{facts.st_size / 1e9:.2f} GB",
        f"{facts.st_blocks * 512 / 1e9:.2f} GB", odd, times,
    )  # fmt: skip


def _kept(home: Path) -> tuple[str, str]:
    """How many odd names come out as they went in, and to what the clip's time is kept."""
    clip = next((home / "o").rglob("C1.MOV"))
    apart = abs(clip.stat().st_mtime_ns - (home / _NAME / _ONE).stat().st_mtime_ns)
    every = home / "every"
    every.mkdir()
    with (home / "r").open("rb") as file:
        begins = file.read(4)
    words = {b"hsqs": "unsquashfs -q -n -f -d every r", b"PK\3\4": "unzip -qo r -d every"}.get(begins)
    iso = "xorriso -indev r -osirrox on -extract / every 2>/dev/null; chmod -R u+w every"
    tar = "tar -xf r -C every 2>/dev/null"
    with (home / "r").open("rb") as file:
        file.seek(257)
        is_tar = file.read(5) == b"ustar"
    _sh(home, words or (tar if is_tar else iso))
    there = {name for _, _, names in os.walk(os.fsencode(every)) for name in names}
    shutil.rmtree(every)
    return f"{len(there & set(_ODD))} of {len(_ODD)}", "exact" if not apart else f"off by {apart / 1e9:.1f} s"


def _ours(home: Path) -> None:
    source, store = FolderSource(home / _NAME), PackageStore(LocalStore("packages", home), home)
    (result,) = transfer(source, list_card(source), [Target(store, _NAME)], algorithm_named("xxh128")).stores
    if not result.verified:
        raise RuntimeError(f"it was not verified: {result.failed}")
    (home / f"{_NAME}.tar").rename(home / "r")


def _zip(home: Path) -> None:
    with zipfile.ZipFile(home / "r", "w", zipfile.ZIP_STORED) as archive:
        for folder, _, names in os.walk(home / _NAME):
            for name in names:
                path = Path(folder, name)
                inside = os.fsencode(str(path.relative_to(home))).decode("cp437")
                info = zipfile.ZipInfo(inside, (2027, 4, 26, 9, 0, 0))
                with archive.open(info, "w", force_zip64=True) as to, path.open("rb") as file:
                    shutil.copyfileobj(file, to, 4 << 20)


def _fill(card: Path) -> None:
    (card / "DCIM/100AAAAA").mkdir(parents=True)
    (card / "CONTENTS").mkdir()
    block = os.urandom(1 << 20)
    for n in range(_STILLS):
        (card / f"DCIM/100AAAAA/AAAA{n:04}.RAW").write_bytes(os.urandom(32) + block[: _STILL - 32])
    for n in range(_CLIPS):
        with (card / f"CONTENTS/C{n}.MOV").open("wb") as file:
            for _ in range(_CLIP >> 20):
                file.write(os.urandom(32) + block[32:])
    with (card / "CONTENTS/HOLE.MOV").open("wb") as file:
        file.truncate(_HOLE)
    for name in _ODD:
        (card / os.fsdecode(name)).write_bytes(name)
    os.utime(card / _ONE, ns=(1_808_643_600_123_456_700,) * 2)


def _sh(home: Path, words: str) -> None:
    subprocess.run(words, shell=True, cwd=home, check=False, capture_output=True)  # noqa: S602 - words of ours


def _drop() -> None:
    os.sync()
    Path("/proc/sys/vm/drop_caches").write_text("3")
