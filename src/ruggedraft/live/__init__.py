"""What changed, told to every open screen at once."""
