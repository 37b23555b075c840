"""Reading copies again."""
