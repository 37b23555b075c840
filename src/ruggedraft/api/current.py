"""Which production the screens are about. One ledger serves one production for now: the newest."""

from ruggedraft.core.errors import ActRefused
from ruggedraft.productions.models import Production


def production() -> Production:
    newest = Production.objects.select_related("rule").order_by("-id").first()
    if newest is None:
        raise ActRefused("There is no production in this ledger yet.")
    return newest
