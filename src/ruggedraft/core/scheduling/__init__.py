"""When will each card be free, and in which order should they go?"""

from .order import Job, best_order, free_at, seconds_for

__all__ = ["Job", "best_order", "free_at", "seconds_for"]
