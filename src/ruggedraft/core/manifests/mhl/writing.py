"""The next generation of a history, as files to be left in its folder."""

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from xml.sax.saxutils import escape, quoteattr

from ...errors import MalformedList
from ...files.confinement import parts_of
from .hashes import HASHES, FolderSum, folder_sums, hash_named
from .history import CHAIN, DIRECTORY, FOLDER, LISTS, History

_IGNORED = (".DS_Store", FOLDER, f"{FOLDER}/")
"""As the reference implementation writes them where nothing else is asked for."""
_NOT_IN_XML = re.compile("[\0-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff\ufffe\uffff\r\n\t\\\\]")
"""XML 1.0, 2.2; and what a reader may not give back as it was."""


@dataclass(frozen=True)
class Creator:
    """Who made a generation, when and with what. author: a person's name. comment: a sentence"""

    at: datetime
    host: str
    tool: str
    version: str
    author: str = ""
    location: str = ""
    comment: str = ""


@dataclass(frozen=True)
class ToList:
    """A file as it was read. sums: by hash"""

    path: str
    size: int
    modified_ns: int
    sums: Mapping[str, str]


@dataclass(frozen=True)
class Reading:
    """What a generation tells of. files: those that were read, and no others. read_at: when that began

    whole: these are all files of the folder. Sums of folders and what was renamed are told only then
    empty: folders beneath without files
    """

    files: Sequence[ToList]
    read_at: datetime
    whole: bool = True
    empty: Sequence[str] = ()


def new_generation(
    history: History, chain: bytes | None, root: str, reading: Reading, creator: Creator, process: str = "transfer"
) -> dict[str, bytes]:
    """What is to be in `ascmhl/` for a further generation, by name: the list, and the chain that names it.

    chain: the content of the chain as it is, None for the first. root: name of the folder that holds it all
    The same reading, creator and history make the same bytes. Raises UnknownAlgorithm, MalformedList, UnsafePath.
    """
    _refuse(reading.files)
    number = len(history.generations) + 1
    name = f"{number:04}_{_plain(root)}_{creator.at.astimezone(UTC):%Y-%m-%d_%H%M%SZ}.mhl"
    content = "".join(_list(history, reading, creator, process)).encode()
    return {name: content, CHAIN: _chain(chain, number, name, HASHES["c4"].of(content))}


def _refuse(files: Sequence[ToList]) -> None:
    if not files:
        raise MalformedList("There is nothing to list: no generation was made.")
    for file in files:
        parts_of(file.path)
        if _NOT_IN_XML.search(file.path):
            raise MalformedList(f"{file.path!r} has signs that ASC MHL cannot hold: no generation was made.")
        if file.path.split("/")[0] == FOLDER:
            raise MalformedList(f"What was copied has a folder {FOLDER} of its own: it was left as it is.")
        for name in file.sums:
            hash_named(name)


def _plain(root: str) -> str:
    return re.sub(r"[^\w.-]", "_", root) or "root"


def _list(history: History, reading: Reading, creator: Creator, process: str) -> Iterator[str]:
    at, ordered = _moment(reading.read_at), sorted(reading.files, key=lambda one: one.path)
    folders = _folders(ordered, reading.empty) if reading.whole else {}
    yield f'<?xml version="1.0" encoding="UTF-8"?>\n<hashlist version="2.0" xmlns="{LISTS}">\n'
    yield from _creator(creator)
    yield f"  <processinfo>\n    <process>{escape(process)}</process>\n"
    yield from ("    <roothash>\n", *_folder(folders, "", at, "      "), "    </roothash>\n") if folders else ()
    yield from ("    <ignore>\n", *(f"      <pattern>{escape(one)}</pattern>\n" for one in _IGNORED), "    </ignore>\n")
    yield "  </processinfo>\n  <hashes>\n"
    known = history.expected()
    gone = _not_here(known, ordered) if reading.whole else {}
    for file in ordered:
        yield from _hash(file, known.get(file.path), gone, at)
    yield from _inner_folders(folders, at)
    yield "  </hashes>\n</hashlist>\n"


def _creator(creator: Creator) -> Iterator[str]:
    yield f"  <creatorinfo>\n    <creationdate>{_moment(creator.at)}</creationdate>\n"
    yield f"    <hostname>{escape(creator.host)}</hostname>\n"
    yield f"    <tool version={quoteattr(creator.version)}>{escape(creator.tool)}</tool>\n"
    for tag, said in (("author", creator.author), ("location", creator.location), ("comment", creator.comment)):
        yield f"    <{tag}>{escape(said)}</{tag}>\n" if said else ""
    yield "  </creatorinfo>\n"


_Gone = Mapping[tuple[str, str], str]
"""Files that are not here any more: what each is known by, and what it was called."""


def _not_here(known: Mapping[str, Mapping[str, str]], files: Sequence[ToList]) -> _Gone:
    here = {file.path for file in files}
    return {min(sums.items()): path for path, sums in known.items() if path not in here and sums}


def _inner_folders(folders: Mapping[str, Mapping[str, FolderSum]], at: str) -> Iterator[str]:
    """Each but the whole; none where no hash is of every file."""
    inner = sorted({path for sums in folders.values() for path in sums} - {""})
    for path in inner:
        yield f"    <directoryhash>\n      <path>{escape(path)}</path>\n"
        yield from _folder(folders, path, at, "      ")
        yield "    </directoryhash>\n"


def _folders(files: Sequence[ToList], empty: Sequence[str]) -> dict[str, dict[str, FolderSum]]:
    """By hash, of those that every file has."""
    everywhere = [name for name in HASHES if all(name in file.sums for file in files)]
    return {
        name: folder_sums({file.path: file.sums[name] for file in files}, HASHES[name], empty) for name in everywhere
    }


def _folder(folders: Mapping[str, Mapping[str, FolderSum]], path: str, at: str, indent: str) -> Iterator[str]:
    for part in ("content", "structure"):
        yield f"{indent}<{part}>\n"
        for name, sums in sorted(folders.items()):
            yield f'{indent}  <{name} hashdate="{at}">{getattr(sums[path], part)}</{name}>\n'
        yield f"{indent}</{part}>\n"


def _hash(file: ToList, known: Mapping[str, str] | None, gone: _Gone, at: str) -> Iterator[str]:
    changed = datetime.fromtimestamp(file.modified_ns // 10**9, UTC).isoformat()
    yield f'    <hash>\n      <path size="{file.size}" lastmodificationdate="{changed}">{escape(file.path)}</path>\n'
    before = "" if known else next((gone[key] for key in sorted(file.sums.items()) if key in gone), "")
    for name, said in sorted(file.sums.items()):
        action = _action(name, said, known, renamed=bool(before))
        yield f'      <{name} action="{action}" hashdate="{at}">{said}</{name}>\n'
    if before:
        yield f"      <previousPath>{escape(before)}</previousPath>\n"
    yield "    </hash>\n"


def _action(name: str, said: str, known: Mapping[str, str] | None, *, renamed: bool) -> str:
    if renamed:
        return "verified"
    if not known:
        return "original"
    return "new" if name not in known else "verified" if known[name] == said else "failed"


def _chain(before: bytes | None, number: int, name: str, c4: str) -> bytes:
    entry = f'  <hashlist sequencenr="{number}">\n    <path>{escape(name)}</path>\n    <c4>{c4}</c4>\n  </hashlist>\n'
    end = "</ascmhldirectory>\n"
    if before is None:
        return f'<?xml version="1.0" encoding="UTF-8"?>\n<ascmhldirectory xmlns="{DIRECTORY}">\n{entry}{end}'.encode()
    text = before.decode().rstrip()
    if not text.endswith(end.strip()):
        raise MalformedList(f"{CHAIN} does not end as it should: it was left as it is.")
    return f"{text.removesuffix(end.strip()).rstrip()}\n{entry}{end}".encode()


def _moment(at: datetime) -> str:
    return at.astimezone(UTC).isoformat(timespec="seconds")
