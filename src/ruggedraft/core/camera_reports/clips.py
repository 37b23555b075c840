"""Which clips of a roll a report means, by name or by number."""

import re
from collections.abc import Collection, Mapping


def fitting(said: str, clips: Mapping[str, str], recordings: Collection[str] = ()) -> list[str]:
    """Paths of the clips that are called so; where none is, of those that have the number.

    clips: names by path. recordings: paths; where a number fits a recording and a still, the recording is meant
    """
    return _by_name(_plain(_without_ending(said)), clips) or _by_number(said, clips, recordings)


def _by_name(wanted: str, clips: Mapping[str, str]) -> list[str]:
    """Those of this name; where there are none, those whose name begins so."""
    exactly = [path for path, name in clips.items() if _plain(name) == wanted]
    if exactly or not wanted or wanted.isdigit():
        return exactly
    return [path for path, name in clips.items() if _plain(name).startswith(wanted)]


def _by_number(said: str, clips: Mapping[str, str], recordings: Collection[str]) -> list[str]:
    number = re.fullmatch(r"[^\W\d]*[\W_]*(\d+)", said.strip())
    if not number:
        return []
    numbered = [path for path, name in clips.items() if int(number[1]) in _numbers(name)]
    return [path for path in numbered if path in recordings] or numbered


def _without_ending(name: str) -> str:
    return name.rpartition(".")[0] if re.search(r"\.\w{2,4}$", name) else name


def _plain(name: str) -> str:
    return re.sub(r"[\W_]", "", name).upper()


def _numbers(name: str) -> set[int]:
    """What a clip is called by its number: behind a C where there is one, else its last digits.

    >>> _numbers("A012_C007"), _numbers("DSC_0412"), sorted(_numbers("GX010023"))
    ({7}, {412}, [23, 10023])
    """
    clip = re.search(r"(?:^|[\W_\d])C(\d{2,})", name.upper())
    digits = clip[1] if clip else next(iter(re.findall(r"\d+", name)[-1:]), "")
    return {int(digits), int(digits[-4:])} if digits else set()
