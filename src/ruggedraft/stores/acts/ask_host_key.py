from ruggedraft.core.errors import ActRefused, StoreVanished
from ruggedraft.core.stores.sftp import host_key_of
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require


def ask_host_key(person: Person, host: str, port: int) -> str:
    """What a server presents itself with; nothing is sent to it, and nothing is changed. Raises ActRefused."""
    require(person, May.KEEP_STORES)
    if not host.strip() or not 0 < port < 65536:
        raise ActRefused("A server is reached by its name or address, and a port.")
    try:
        return host_key_of(host.strip(), port)
    except StoreVanished as error:
        raise ActRefused(f"{error}: see to its name, its port, and the network.") from error
