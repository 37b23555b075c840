"""When will each card be free, which may go at once, and in which order should they go?"""

from .order import TimedRun, best_order, free_at, seconds_for
from .sharing import Served, Sharing, learned, plugs_above

__all__ = ["Served", "Sharing", "TimedRun", "best_order", "free_at", "learned", "plugs_above", "seconds_for"]
