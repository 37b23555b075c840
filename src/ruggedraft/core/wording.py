"""Words that sentences of every layer share."""


def counted(count: int, one: str, many: str = "") -> str:
    """
    A number with what it counts. many: where an added "s" would not do, as in "1 file is" and "2 files are".

    >>> counted(2, "clip"), counted(1, "file is", "files are")
    ('2 clips', '1 file is')
    """
    return f"{count:,} {one if count == 1 else many or one + 's'}"
