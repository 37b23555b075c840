"""What messages to another program are signed with, kept as servers' secrets are: the database gives it not away."""

from ruggedraft.stores.secrets import open_words, seal_words

from .models import Hook


def sealed(secret: str, address: str) -> bytes:
    """Raises ActRefused where there is no key to seal it with."""
    return seal_words(secret, f"webhook {address}")


def opened(hook: Hook) -> str:
    """Raises StoreVanished where this machine has not the key, or somebody changed where it is sent."""
    return open_words(bytes(hook.sealed), f"webhook {hook.address}", hook.name)
