"""How often Python looks for garbage in a process that stays."""

import gc


def look_for_garbage_rarely() -> None:
    """Call when all is loaded.

    What is loaded by now stays; a card's tens of thousands of names come and go. Looking through all of it again and
    again took a sixth of the time of an answer about a large card.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)
