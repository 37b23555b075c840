import re
from collections.abc import Collection

_MENTION = re.compile(r"(?<![\w@])@([^\s@]+)")


def mentioned(words: str, usernames: Collection[str]) -> list[str]:
    """Those of these user names that are written after an @, each once, in their order.

    What stands behind a name may be punctuation; an e-mail address mentions nobody.

    >>> mentioned("@wren, see @Pip: soft from 03:10. mail@sol.test", ["sol", "wren", "pip"])
    ['wren', 'pip']
    """
    known = {name.casefold(): name for name in usernames}
    said = (known.get(_without_punctuation(one.casefold(), known)) for one in _MENTION.findall(words))
    return list(dict.fromkeys(name for name in said if name))


def _without_punctuation(word: str, known: Collection[str]) -> str:
    while word and word not in known and not word[-1].isalnum():
        word = word[:-1]
    return word
