class CannotGoOn(Exception):
    """Set-up met something only a person can settle; the message is one sentence for them."""
