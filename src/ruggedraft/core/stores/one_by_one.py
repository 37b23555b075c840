"""Small files one by one, for stores that gain nothing by taking many at a time."""

from collections.abc import Callable, Sequence

from ..errors import StoreError
from ..evidence import Evidence
from .port import Data, PendingFile, Store, ToRead, Whole


def write_whole(store: Store, files: Sequence[Whole]) -> list[PendingFile | StoreError]:
    return [_written(store, file) for file in files]


def _written(store: Store, file: Whole) -> PendingFile | StoreError:
    try:
        pending = store.write(file.path, len(file.data), file.mode)
    except StoreError as error:
        return error
    try:
        pending.write(file.data)
        pending.end(file.modified_ns)
    except StoreError as error:
        pending.discard()
        return error
    return pending


def read_back_small(
    store: Store, files: Sequence[ToRead], consume: Callable[[int, Data], object]
) -> list[Evidence | StoreError]:
    return [_read(store, index, file, consume) for index, file in enumerate(files)]


def _read(store: Store, index: int, file: ToRead, consume: Callable[[int, Data], object]) -> Evidence | StoreError:
    content = bytearray()
    try:
        level = store.read_back(file.path, content.extend)
    except StoreError as error:
        return error
    consume(index, content)
    return level
