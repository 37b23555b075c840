"""Writing what people say about a roll beside its copies: small files of their own, never a change to the originals."""

from collections.abc import Iterable, Mapping

from ruggedraft.core.errors import Conflict, RaftError
from ruggedraft.core.sidecars import Tags, format_xmp, sidecar_path
from ruggedraft.core.sources import to_ledger
from ruggedraft.core.stores import Store, write_one
from ruggedraft.rolls.models import Copy
from ruggedraft.rolls.recording import is_ours

from .models import Offload


def tags_of(offload: Offload) -> Tags:
    """Empty where the plan writes no sidecars."""
    plan = offload.roll.camera.plan
    if not plan.sidecars:
        return Tags()
    return Tags(plan.creator, plan.rights, tuple(plan.keywords), offload.notes)


def leave_sidecars(
    offload: Offload,
    present: Iterable[tuple[Copy, Store]],
    mains: Iterable[str],
    files: Iterable[str],
    kept_as: Mapping[str, str],
    modified_ns: int,
) -> list[tuple[Copy, str]]:
    """Write a sidecar for each clip on each store; what went wrong, by copy.

    mains: the clips' main paths on the card. files: of everything that was taken
    A sidecar that is there already, the camera's own too, is left alone.
    """
    tags = tags_of(offload)
    if not tags:
        return []
    taken = {kept_as.get(path, path).lower() for path in files}
    paths = [sidecar_path(kept_as.get(main, main)) for main in mains]
    paths = [path for path in paths if path.lower() not in taken]
    trouble = []
    for copy, store in present:
        if store.closes:
            continue
        try:
            store.open()
            for path in paths:
                _write(copy, store, f"{copy.folder}/{path}", format_xmp(tags), modified_ns)
        except RaftError as error:
            trouble.append((copy, f"its sidecars could not all be written: {error.sentence}"))
        finally:
            store.close()
    return trouble


def _write(copy: Copy, store: Store, path: str, content: bytes, modified_ns: int) -> None:
    """Raises StoreError, a Conflict where another sidecar is there that is not known to be ours."""
    if store.found(path) is None:
        write_one(store, path, content, modified_ns)
        store.settle([(path.rpartition("/")[0], None)])
    held = bytearray()
    store.read_back(path, held.extend)
    if held != content and not is_ours(copy, to_ledger(path), bytes(held)):
        raise Conflict(f"{path} on '{store.name}' says something else; it was left alone")
