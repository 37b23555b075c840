"""How Python is set in a process that stays, and answers many."""

import gc
import sys

_TURN_S = 0.001


def settle_in() -> None:
    """Call when all is loaded.

    What is loaded by now stays; a card's tens of thousands of names come and go. Looking through all of it again and
    again took a sixth of the time of an answer about a large card. And a thread that works something out lets the
    others have their turn sooner than Python has it: each of their questions to the ledger waits for one.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)
    sys.setswitchinterval(_TURN_S)
