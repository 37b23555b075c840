"""Finding clips, files and words months later, with nothing plugged in. It reads, and keeps nothing of its own."""
