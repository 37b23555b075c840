"""Words that are looked for in names and texts."""

import re
import unicodedata
from collections.abc import Iterable

from ruggedraft.core.errors import ActRefused

LONGEST, MOST = 200, 8
LEAST = 3
"""Names of files are searched by so many signs at least: fewer stand in nearly every name."""

_WORD = re.compile(r'"([^"]*)"?|(\S+)')


def words_of(text: str) -> list[str]:
    """What is looked for, each once, as it is compared; what stands in quotation marks is one word.

    Raises ActRefused with a sentence where it is more than anybody looks for.

    >>> words_of('B-cam "the long  take" MOV mov')
    ['b-cam', 'the long take', 'mov']
    >>> words_of(" ")
    []
    """
    if len(text) > LONGEST:
        raise ActRefused(
            f"Look for at most {LONGEST} signs at a time: these are {len(text):,}. Nothing was looked for."
        )
    said = (" ".join((quoted or plain).split()) for quoted, plain in _WORD.findall(text))
    words = list(dict.fromkeys(plain_form(word) for word in said if word))
    if len(words) > MOST:
        raise ActRefused(f"Look for at most {MOST} words at a time: these are {len(words)}. Nothing was looked for.")
    return words


def plain_form(text: str) -> str:
    """As texts are compared: small letters, and letters with their marks as one sign each (Unicode's form C).

    >>> plain_form("BÄRGE") == plain_form("Ba\\u0308rge")
    True
    """
    return unicodedata.normalize("NFC", text).lower()


def spellings(word: str) -> list[str]:
    """A word as names on media may hold it: some file systems take letters and their marks apart (Unicode's form D).

    >>> len(spellings("bärge")), spellings("barge")
    (2, ['barge'])
    """
    return list(dict.fromkeys((word, unicodedata.normalize("NFD", word))))


def literally(word: str) -> str:
    r"""A word as it stands in a pattern of SQL's LIKE.

    >>> literally("100%_a")
    '100\\%\\_a'
    """
    for sign in ("\\", "%", "_"):
        word = word.replace(sign, f"\\{sign}")
    return word


def searched(texts: Iterable[str]) -> str:
    """Texts as one in which words are looked for: as they stand, and as labels without their dashes and spaces.

    >>> [word in searched(["A-14", "Halyard"]) for word in ("a14", "a-14", "hal", "a140", "14hal")]
    [True, True, True, False, False]
    """
    plain = plain_form("\n".join(texts))
    return f"{plain}\n{plain.translate(_BETWEEN)}"


_BETWEEN = str.maketrans("", "", " \t-_")
