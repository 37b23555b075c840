"""What a run remembers of each file, in columns beside the files: of a million of them too."""

from collections.abc import Iterable, Iterator, Mapping, MutableMapping, MutableSet

from ..sources.packed import Entries, Places
from .report import FileRead


class PathsAmong(MutableSet[str]):
    """A set of paths of some files: one byte for each file, whether it is in the set or not."""

    def __init__(self, files: Entries, marks: bytes | bytearray | None = None) -> None:
        """marks: as `marks` of another set of the same files; None: an empty set. Raises ValueError for another's."""
        if marks is not None and len(marks) != len(files):
            raise ValueError(f"{len(marks)} marks for {len(files)} files")
        self.files, self._places = files, Places(files)
        self.marks = bytearray(len(files)) if marks is None else bytearray(marks)
        self._count = sum(self.marks)

    @classmethod
    def _from_iterable(cls, paths: Iterable[str]) -> set[str]:  # type: ignore[override]
        """What `&`, `|` and `-` give."""
        return set(paths)

    def __contains__(self, path: object) -> bool:
        place = self._places.of(path) if isinstance(path, str) else -1
        return place >= 0 and bool(self.marks[place])

    def __iter__(self) -> Iterator[str]:
        return (self.files.path(place) for place, marked in enumerate(self.marks) if marked)

    def __len__(self) -> int:
        return self._count

    def add(self, path: str) -> None:
        """Raises KeyError for what is none of the files."""
        self._mark(self._required(path), 1)

    def discard(self, path: str) -> None:
        """Also where it is not there."""
        place = self._places.of(path)
        if place >= 0:
            self._mark(place, 0)

    def clear(self) -> None:
        """Take out all."""
        self.marks, self._count = bytearray(len(self.files)), 0

    def discard_of_size(self, path: str, size: int) -> None:
        """Take out a file if it has so many bytes."""
        place = self._places.of(path)
        if place >= 0 and self.files.size(place) == size:
            self._mark(place, 0)

    def copy(self) -> "PathsAmong":
        """Of its own."""
        return PathsAmong(self.files, self.marks)

    def _mark(self, place: int, mark: int) -> None:
        self._count += mark - self.marks[place]
        self.marks[place] = mark

    def _required(self, path: str) -> int:
        place = self._places.of(path)
        if place < 0:
            raise KeyError(path)
        return place


_ABSENT, _QUICK, _OTHER, _ODD = range(4)
"""What is kept of a file: nothing; its numbers, with a fingerprint that begins with `x` or another; the object."""


class Readings(MutableMapping[str, FileRead]):
    """What was read of each file, by path, in the files' order. Checksums and fingerprints are kept as numbers."""

    def __init__(self, files: Entries) -> None:
        self._files, self._places, self._count = files, Places(files), 0
        self._how, self._numbers = bytearray(len(files)), bytearray()
        self._digits: list[int] = []
        self._width = 0
        self._odd: dict[int, FileRead] = {}

    def __len__(self) -> int:
        return self._count

    def __iter__(self) -> Iterator[str]:
        return (self._files.path(place) for place, how in enumerate(self._how) if how != _ABSENT)

    def __contains__(self, path: object) -> bool:
        place = self._places.of(path) if isinstance(path, str) else -1
        return place >= 0 and self._how[place] != _ABSENT

    def __getitem__(self, path: str) -> FileRead:
        place = self._place(path)
        how = self._how[place]
        if how == _ABSENT:
            raise KeyError(path)
        if how == _ODD:
            return self._odd[place]
        text = self._numbers[place * self._width : (place + 1) * self._width].hex()
        sums, end = [], self._digits[0]
        for digits in self._digits[1:]:
            sums.append(text[end : end + digits])
            end += digits
        fingerprint = f"x{text[1 : self._digits[0]]}" if how == _QUICK else text[: self._digits[0]]
        size, modified_ns = self._files.size(place), self._files.modified_ns(place)
        return FileRead(size, modified_ns, sums[0], tuple(sums[1:]), fingerprint)

    def __setitem__(self, path: str, read: FileRead) -> None:
        place = self._place(path)
        self._count += self._how[place] == _ABSENT
        self._how[place] = how = self._packed(place, read)
        self._odd.pop(place, None)
        if how == _ODD:
            self._odd[place] = read

    def __delitem__(self, path: str) -> None:
        if path not in self:
            raise KeyError(path)
        self._how[self._place(path)] = _ABSENT
        self._count -= 1

    def _place(self, path: str) -> int:
        place = self._places.of(path)
        if place < 0:
            raise KeyError(path)
        return place

    def _packed(self, place: int, read: FileRead) -> int:
        """How it is kept: as it is, where its numbers would not give back the same."""
        size, modified_ns, checksum, others, fingerprint = read
        quick = fingerprint.startswith("x")
        digits = [len(fingerprint), len(checksum), *map(len, others)]
        text = "".join(("0" + fingerprint[1:] if quick else fingerprint, checksum, *others))
        try:
            number = bytes.fromhex(text)
        except ValueError:
            return _ODD
        if not self._digits:
            self._digits, self._width = digits, len(number)
            self._numbers = bytearray(len(self._how) * len(number))
        if digits != self._digits or number.hex() != text:
            return _ODD
        if (size, modified_ns) != (self._files.size(place), self._files.modified_ns(place)):
            return _ODD
        self._numbers[place * self._width : (place + 1) * self._width] = number
        return _QUICK if quick else _OTHER


class Sums(Mapping[str, str]):
    """One of the checksums of each file that was read, by path."""

    def __init__(self, read: Mapping[str, FileRead], number: int) -> None:
        """number: 0 for the first that was asked for, 1 for the second …"""
        self._read, self._number = read, number

    def __getitem__(self, path: str) -> str:
        read = self._read[path]
        return (read.checksum, *read.others)[self._number]

    def __iter__(self) -> Iterator[str]:
        return iter(self._read)

    def __len__(self) -> int:
        return len(self._read)
