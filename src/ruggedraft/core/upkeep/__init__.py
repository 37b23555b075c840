"""What a ledger has done for its copies while nobody watches: at which hours, which copy first, and what waits."""

from .hours import ALL_DAY, Hours
from .rechecks import Recheckable, by_risk
from .trying_again import LastTry, again_at

__all__ = ["ALL_DAY", "Hours", "LastTry", "Recheckable", "again_at", "by_risk"]
