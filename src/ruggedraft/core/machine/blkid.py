"""What blkid(8) finds on a block device by reading it, where udev has not told."""

import subprocess

_PATIENCE_S = 20


def ask_blkid(node: str, word: str) -> str:
    """A tag of what is on a device, such as UUID, PTUUID or TYPE; empty where there is none, or nothing answers."""
    words = ["blkid", "-p", "-s", word, "-o", "value", node]
    try:
        done = subprocess.run(words, capture_output=True, text=True, timeout=_PATIENCE_S)
    except (OSError, subprocess.TimeoutExpired):
        return ""
    return done.stdout.strip()
