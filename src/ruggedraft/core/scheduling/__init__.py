"""When will each card be free, and in which order should they go?"""

from .order import TimedRun, best_order, free_at, seconds_for

__all__ = ["TimedRun", "best_order", "free_at", "seconds_for"]
