"""Pictures of what was recorded, kept for looking at it while every drive is away. No verdict rests on them."""
