"""Writes one small file whose content is known already, such as a list."""

from .port import Store


def write_one(store: Store, path: str, content: bytes, modified_ns: int, *, replace: bool = False) -> None:
    """Whole under its name, or not there. The store must be open. Raises StoreError."""
    pending = store.write(path, len(content))
    try:
        pending.write(content)
        pending.end(modified_ns)
        (error,) = store.commit([pending], replace=replace)
        if error:
            raise error
    finally:
        pending.discard()
