from dataclasses import asdict, replace

from django.db import transaction

from ruggedraft.core.errors import ActRefused, StoreError
from ruggedraft.core.stores.sftp import SftpAddress, fingerprint_of
from ruggedraft.core.wording import one_line
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write_in_each
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..addresses import Secret, checked, identities_of
from ..models import Store, StoreSecret
from ..queries import productions_of
from ..secrets import sealed
from ..servers import address_of, reached


def change_credentials(person: Person, store: Store, secret: Secret, *, host_key: str, reason: str) -> None:
    """Give another key or password for a store's server, and say that its host key is the one it has now.

    Tried before it is kept: the store has to be there with its mark. Raises ActRefused.
    """
    require(person, May.KEEP_STORES, *productions_of(store))
    if store.is_local:
        raise ActRefused(f"'{store.name}' is no store on a server: nothing opens it but its plug.")
    reason = one_line(reason)
    if not reason:
        raise ActRefused("Say why the key or password changes.")
    before = address_of(store)
    address = before
    if isinstance(before, SftpAddress):
        address = checked(replace(before, host_key=host_key or before.host_key))
    try:
        reached(store.name, address, secret, str(store.uuid)).require()
    except StoreError as error:
        raise ActRefused(f"That does not open it, and nothing was changed: {error}.") from error
    with transaction.atomic():
        kept = sealed(secret, str(store.uuid), address)
        known = sorted(identities_of(address) | set(store.identities))
        Store.objects.filter(pk=store.pk).update(address=asdict(address), identities=known)
        StoreSecret.objects.update_or_create(
            store=store, defaults={"sealed": kept, "given_by": person, "given_at": now()}
        )
        words = ""
        if isinstance(address, SftpAddress) and address != before:
            words = f" Its server's host key is {fingerprint_of(address.host_key)} from now on."
        write_in_each(productions_of(store), "change credentials", store.name,
              f"What opens the server of '{store.name}' was given anew: {reason}.{words}", person=person)  # fmt: skip
        changed(Topic.STORES)
