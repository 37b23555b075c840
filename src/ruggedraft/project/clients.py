"""Where a request comes from. A proxy's word is taken only where one is configured."""

from django.conf import settings
from django.http import HttpRequest


def client_address(request: HttpRequest) -> str:
    """The address that the last proxy of ours saw, or the one that connected.

    settings.PROXIES: how many proxies of ours stand in front. Each appends the address it saw to X-Forwarded-For; what
    the client itself wrote there stands further left and is not believed.
    """
    connected = str(request.META.get("REMOTE_ADDR") or "")
    if not settings.PROXIES:
        return connected
    told = [part.strip() for part in str(request.META.get("HTTP_X_FORWARDED_FOR", "")).split(",") if part.strip()]
    return told[-settings.PROXIES] if len(told) >= settings.PROXIES else connected
