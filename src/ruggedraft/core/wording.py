"""Words that sentences of every layer share."""

from collections.abc import Sequence


def counted(count: int, one: str, many: str = "") -> str:
    """
    A number with what it counts. many: where an added "s" would not do, as in "1 file is" and "2 files are".

    >>> counted(2, "clip"), counted(1, "file is", "files are")
    ('2 clips', '1 file is')
    """
    return f"{count:,} {one if count == 1 else many or one + 's'}"


def first_of(names: Sequence[str], most: int = 20) -> str:
    """
    The first names of many, and a sign that there are more.

    >>> first_of(["a", "b", "c"], 2), first_of(["a"])
    ('a, b …', 'a')
    """
    return ", ".join(names[:most]) + (" …" if len(names) > most else "")


def either(names: Sequence[str]) -> str:
    """
    >>> either(["a"]), either(["a", "b", "c"])
    ('a', 'a, b or c')
    """
    *before, last = names
    return f"{', '.join(before)} or {last}" if before else last


def one_line(text: str) -> str:
    """
    >>> one_line("  Red   one ")
    'Red one'
    """
    return " ".join(text.split())


def is_name(text: str, most: int) -> bool:
    """Whether something may be called so: by 1 to `most` signs that can be seen.

    >>> is_name("Cart SSD 1", 80), is_name("", 80), is_name("x" * 81, 80), is_name(chr(7), 80)
    (True, False, False, False)
    """
    return 0 < len(text) <= most and text.isprintable()
